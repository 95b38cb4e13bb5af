import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../platform/shared-entities'
import type { Contact } from '../people'

@Entity('mention')
export class Mention {
  @PrimaryColumn('int') noteId!: number
  @ManyToOne(() => Note) note?: Relation<Note>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) seenAt!: string | null
}

@Entity('note')
export class Note {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int', { nullable: true }) contactId!: number | null
  @ManyToOne('Contact') contact?: Relation<Contact>
  @Column('int', { nullable: true }) topicId!: number | null
  @ManyToOne(() => Topic) topic?: Relation<Topic>
  @Column('longtext') html!: string
  @Column('text') plain!: string
  @Column('int', { nullable: true }) paperId!: number | null
  @Column('int') authorId!: number
  @ManyToOne(() => UserAccount) author?: Relation<UserAccount>
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) changedAt!: string | null
  @Column('varchar', { nullable: true }) deletedAt!: string | null
}

@Entity('notice_choice')
export class NoticeChoice {
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @PrimaryColumn('varchar') kind!: string
  @Column('boolean') told!: boolean
  @Column('boolean') byMail!: boolean
}

@Entity('notice_seen')
export class NoticeSeen {
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('bigint') upTo!: number
}

@Entity('saved_view')
export class SavedView {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') list!: string
  @Column('varchar') name!: string
  @Column('longtext') state!: string
  @Column('boolean') shared!: boolean
}

@Entity('topic')
export class Topic {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') title!: string
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('varchar') lastAt!: string
}

export const noteEntities = [Mention, Note, NoticeChoice, NoticeSeen, SavedView, Topic]

import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('mention')
export class Mention {
  @PrimaryColumn('int') noteId!: number
  @PrimaryColumn('int') userId!: number
  @Column('varchar', { nullable: true }) seenAt!: string | null
}

@Entity('note')
export class Note {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('int', { nullable: true }) contactId!: number | null
  @Column('int', { nullable: true }) topicId!: number | null
  @Column('longtext') html!: string
  @Column('text') plain!: string
  @Column('int', { nullable: true }) paperId!: number | null
  @Column('int') authorId!: number
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) changedAt!: string | null
  @Column('varchar', { nullable: true }) deletedAt!: string | null
}

@Entity('notice_choice')
export class NoticeChoice {
  @PrimaryColumn('int') userId!: number
  @PrimaryColumn('varchar') kind!: string
  @Column('boolean') told!: boolean
  @Column('boolean') byMail!: boolean
}

@Entity('notice_seen')
export class NoticeSeen {
  @PrimaryColumn('int') userId!: number
  @Column('bigint') upTo!: number
}

@Entity('saved_view')
export class SavedView {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @Column('varchar') list!: string
  @Column('varchar') name!: string
  @Column('longtext') state!: string
  @Column('boolean') shared!: boolean
}

@Entity('topic')
export class Topic {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('varchar') title!: string
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('varchar') lastAt!: string
}

export const noteEntities = [Mention, Note, NoticeChoice, NoticeSeen, SavedView, Topic]

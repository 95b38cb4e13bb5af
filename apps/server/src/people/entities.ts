import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, PracticeArea, UserAccount } from '../platform/shared-entities'

@Entity('contact')
export class Contact {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') kind!: 'person' | 'organization'
  @Column('varchar') name!: string
  @Column('varchar') normalized!: string
  @Column('varchar') greeting!: string
  @Column('varchar') email!: string
  @Column('varchar') phone!: string
  @Column('varchar') address!: string
  @Column('text') notes!: string
  @Column('int', { nullable: true }) privateTo!: number | null
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'private_to' }) privateToUser?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) birthDate!: Day | null
  @Column('varchar') language!: string
  @Column('varchar') taxNumber!: string
  @Column('char', { nullable: true }) uid!: string | null
  /** The person's own choice of pronouns, such as she/her; empty where it was not said. */
  @Column('varchar', { default: '' }) pronouns!: string
  @Column('int', { nullable: true }) mergedInto!: number | null
  @Column('int') version!: number
  @Column('varchar') createdAt!: string
}

@Entity('contact_kind')
export class ContactKind {
  @PrimaryColumn('int') contactId!: number
  @ManyToOne(() => Contact) contact?: Relation<Contact>
  @PrimaryColumn('varchar') kind!: string
}

@Entity('contact_word')
export class ContactWord {
  @PrimaryColumn('varchar') word!: string
  @PrimaryColumn('int') contactId!: number
  @ManyToOne(() => Contact) contact?: Relation<Contact>
}

@Entity('conflict_check')
export class ConflictCheck {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('longtext') terms!: string
  @Column('varchar') about!: string
  @Column('varchar') note!: string
  @Column('int') moreHits!: number
  @Column('int') namesOnRecord!: number
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
  @Column('bigint', { nullable: true }) supersededBy!: number | null
}

@Entity('conflict_hit')
export class ConflictHit {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') checkId!: number
  @ManyToOne(() => ConflictCheck) check?: Relation<ConflictCheck>
  @Column('varchar') term!: string
  @Column('int', { nullable: true }) contactId!: number | null
  @ManyToOne(() => Contact) contact?: Relation<Contact>
  @Column('varchar') name!: string
  @Column('varchar') reason!: string
  @Column('varchar') reasons!: string
  @Column('tinyint') score!: number
  @Column('longtext') matters!: string
  @Column('varchar', { nullable: true }) decision!: 'no conflict' | 'waiver needed' | 'waiver on file' | 'decline' | null
  @Column('varchar') note!: string
  @Column('int', { nullable: true }) decidedBy!: number | null
  @Column('varchar', { nullable: true }) decidedAt!: string | null
}

@Entity('contact_alias')
export class ContactAlias {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') contactId!: number
  @ManyToOne(() => Contact) contact?: Relation<Contact>
  @Column('varchar') kind!: 'former name' | 'nickname' | 'trading name' | 'also known as'
  @Column('varchar') name!: string
}

@Entity('contact_merge')
export class ContactMerge {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') keptId!: number
  @ManyToOne(() => Contact) kept?: Relation<Contact>
  @Column('int') mergedId!: number
  @ManyToOne(() => Contact) merged?: Relation<Contact>
  @Column('int') mergedBy!: number
  @Column('varchar') mergedAt!: string
  @Column('longtext') moved!: string
}

@Entity('contact_reach')
export class ContactReach {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') contactId!: number
  @ManyToOne(() => Contact) contact?: Relation<Contact>
  @Column('smallint') ordinal!: number
  @Column('varchar') what!: 'e-mail' | 'phone' | 'address' | 'tax number'
  @Column('varchar') label!: string
  @Column('varchar') value!: string
  @Column('varchar') normalized!: string
}

@Entity('contact_relation')
export class ContactRelation {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') fromId!: number
  @ManyToOne(() => Contact) from?: Relation<Contact>
  @Column('int') toId!: number
  @ManyToOne(() => Contact) to?: Relation<Contact>
  @Column('varchar') kind!: string
  @Column('varchar') title!: string
}

@Entity('enquiry')
export class Enquiry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') contactId!: number
  @ManyToOne(() => Contact) contact?: Relation<Contact>
  @Column('text') about!: string
  @Column('longtext') adverse!: string
  @Column('varchar') source!: string
  @Column('varchar') nextStep!: string
  @Column('varchar', { nullable: true }) nextOn!: Day | null
  @Column('varchar', { nullable: true }) consultOn!: Day | null
  @Column('varchar', { nullable: true }) consultAt!: string | null
  @Column('smallint', { nullable: true }) consultMinutes!: number | null
  @Column('bigint', { nullable: true }) consultFee!: number | null
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('varchar') state!: 'open' | 'matter' | 'declined'
  @Column('varchar') reason!: string
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('bigint', { nullable: true }) conflictCheckId!: number | null
  @Column('int') ownerId!: number
  @ManyToOne(() => UserAccount) owner?: Relation<UserAccount>
  @Column('int') takenBy!: number
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) settledAt!: string | null
}

@Entity('merge_request')
export class MergeRequest {
  @PrimaryColumn('int') keptId!: number
  @ManyToOne(() => Contact) kept?: Relation<Contact>
  @PrimaryColumn('int') mergedId!: number
  @ManyToOne(() => Contact) merged?: Relation<Contact>
  @Column('int') askedBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'asked_by' }) askedByUser?: Relation<UserAccount>
  @Column('varchar') askedAt!: string
}

@Entity('name_posting')
export class NamePosting {
  @PrimaryColumn('int') wordId!: number
  @PrimaryColumn('int') nameId!: number
}

@Entity('name_spelling')
export class NameSpelling {
  @PrimaryColumn('varchar') spelling!: string
  @PrimaryColumn('int') wordId!: number
}

@Entity('name_word')
export class NameWord {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') word!: string
  @Column('varchar') sound!: string
  @Column('varchar') otherSound!: string
}

@Entity('recorded_name')
export class RecordedName {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) contactId!: number | null
  @Column('int', { nullable: true }) enquiryId!: number | null
  @Column('varchar') what!: string
  @Column('varchar') name!: string
  @Column('varchar') normalized!: string
}

export const peopleEntities = [
  Contact,
  ContactKind,
  ContactWord,
  ConflictCheck,
  ConflictHit,
  ContactAlias,
  ContactMerge,
  ContactReach,
  ContactRelation,
  Enquiry,
  MergeRequest,
  NamePosting,
  NameSpelling,
  NameWord,
  RecordedName,
]

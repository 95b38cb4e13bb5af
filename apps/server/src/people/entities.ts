import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

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
  @Column('varchar', { nullable: true }) birthDate!: Day | null
  @Column('varchar') language!: string
  @Column('varchar') taxNumber!: string
  @Column('char') uid!: string
  /** The person's own choice of pronouns, such as she/her; empty where it was not said. */
  @Column('varchar', { default: '' }) pronouns!: string
  @Column('int', { nullable: true }) mergedInto!: number | null
  @Column('int') version!: number
  @Column('varchar') createdAt!: string
}

@Entity('contact_kind')
export class ContactKind {
  @PrimaryColumn('int') contactId!: number
  @PrimaryColumn('varchar') kind!: string
}

@Entity('contact_word')
export class ContactWord {
  @PrimaryColumn('varchar') word!: string
  @PrimaryColumn('int') contactId!: number
}

@Entity('conflict_check')
export class ConflictCheck {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('longtext') terms!: string
  @Column('varchar') about!: string
  @Column('varchar') note!: string
  @Column('int') moreHits!: number
  @Column('int') namesOnRecord!: number
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
}

@Entity('conflict_hit')
export class ConflictHit {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') checkId!: number
  @Column('varchar') term!: string
  @Column('int', { nullable: true }) contactId!: number | null
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

export const peopleEntities = [Contact, ContactKind, ContactWord, ConflictCheck, ConflictHit]

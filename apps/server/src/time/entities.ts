import type { Day } from '@heron/core/calendar'
import type { TeamRole } from '@heron/contract'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../platform/shared-entities'

@Entity('timer')
export class Timer {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') text!: string
  @Column('int') seconds!: number
  @Column('varchar', { nullable: true }) runningSince!: string | null
  /** The day of its work, where that was said afterwards. */
  @Column('varchar', { nullable: true }) workedOn!: Day | null
  @Column({ type: 'int', nullable: true, insert: false, update: false }) runningUser!: number | null
}

@Entity('time_entry')
export class TimeEntry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('int') enteredBy!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') day!: Day
  @Column('varchar', { nullable: true }) activity!: string | null
  @Column('varchar') text!: string
  @Column('smallint') workedMinutes!: number
  @Column('smallint') minutes!: number
  @Column('bigint') rate!: number
  @Column('varchar') rateOrigin!: string
  @Column('bigint') amount!: number
  @Column('varchar') charge!: 'billable' | 'no charge' | 'non-billable'
  @Column('varchar') state!: 'draft' | 'posted' | 'reversed' | 'written off'
  @Column('bigint', { nullable: true }) journalId!: number | null
  @Column('int', { nullable: true }) billId!: number | null
  @Column('varchar') createdAt!: string
  @Column('boolean', { default: false }) inCourt!: boolean
  @Column('int', { nullable: true }) fundingId!: number | null
  @Column('boolean', { default: false }) privateAttorney!: boolean
  @Column('varchar', { nullable: true }) task!: string | null
  @Column('char', { nullable: true }) startedAt!: string | null
  @Column('char', { nullable: true }) endedAt!: string | null
  @Column('boolean') covered!: boolean
  @Column({ type: 'bigint', nullable: true, insert: false, update: false }) openAmount!: number | null
  @Column({ type: 'boolean', nullable: true, insert: false, update: false }) waits!: boolean | null
}

@Entity('funding_source')
export class FundingSource {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar', { nullable: true }) fromDay!: Day | null
  @Column('varchar', { nullable: true }) toDay!: Day | null
  @Column('boolean') retired!: boolean
}

@Entity('phrase')
export class Phrase {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) userId!: number | null
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') code!: string
  @Column('varchar') text!: string
}

@Entity('role_rate')
export class RoleRate {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('varchar') role!: TeamRole
  @Column('bigint') rate!: number
}

@Entity('spelling_word')
export class SpellingWord {
  @PrimaryColumn('varchar') word!: string
}

@Entity('time_terms')
export class TimeTerms {
  @PrimaryColumn('varchar') owner!: 'matter' | 'client'
  @PrimaryColumn('int') ownerId!: number
  @Column('tinyint', { nullable: true }) unitMinutes!: number | null
  @Column('varchar', { nullable: true }) rounding!: 'up' | 'nearest' | null
  @Column('int', { nullable: true }) fundingId!: number | null
}

export const timeEntities = [Timer, TimeEntry, FundingSource, Phrase, RoleRate, SpellingWord, TimeTerms]

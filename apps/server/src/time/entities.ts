import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm'

@Entity('timer')
export class Timer {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('varchar') text!: string
  @Column('int') seconds!: number
  @Column('varchar', { nullable: true }) runningSince!: string | null
  /** The day of its work, where that was said afterwards. */
  @Column('varchar', { nullable: true }) workedOn!: Day | null
}

@Entity('time_entry')
export class TimeEntry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @Column('int') enteredBy!: number
  @Column('int') matterId!: number
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
  @Column('varchar', { nullable: true }) startedAt!: string | null
  @Column('varchar', { nullable: true }) endedAt!: string | null
}

export const timeEntities = [Timer, TimeEntry]

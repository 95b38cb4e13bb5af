import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('firm')
export class Firm {
  @PrimaryColumn('tinyint') id!: number
  @Column('varchar') name!: string
  @Column('varchar') address!: string
  @Column('varchar') phone!: string
  @Column('boolean') demo!: boolean
  @Column('varchar', { nullable: true }) district!: string | null
  @Column('varchar') zone!: string
  @Column('smallint') timeUnitMinutes!: number
  @Column('varchar') timeRounding!: 'up' | 'nearest'
  @Column('smallint') billTermsDays!: number
  @Column('smallint') trustNoticeDays!: number
  @Column('boolean') twoPeopleForBills!: boolean
  @Column('boolean') separateTrustViaPooled!: boolean
  @Column('int') taxBasisPoints!: number
  @Column('varchar', { nullable: true }) booksClosedTo!: string | null
  @Column('varchar') matterPattern!: string
  @Column('varchar') calendarDomain!: string
  @Column('varchar') workDays!: string
}

@Entity('user_account')
export class UserAccount {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') initials!: string
  @Column('varchar') email!: string
  @Column('varchar') role!: 'administrator' | 'lawyer' | 'paralegal' | 'docket clerk' | 'bookkeeper' | 'outside lawyer'
  @Column('varchar') title!: string
  @Column('varchar') passwordHash!: string
  @Column('boolean') active!: boolean
  @Column('varchar', { nullable: true }) leftOn!: Day | null
  @Column('smallint') dayGoalMinutes!: number
  @Column('boolean') mayOverrideClearing!: boolean
}

@Entity('user_rate')
export class UserRate {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @Column('varchar') fromDay!: Day
  @Column('varchar', { nullable: true }) toDay!: string | null
  @Column('bigint') rate!: number
  @Column('boolean') usual!: boolean
}

@Entity('activity')
export class Activity {
  @PrimaryColumn('varchar') code!: string
  @Column('varchar') name!: string
  @Column('bigint', { nullable: true }) rate!: number | null
}

@Entity('clearing_days')
export class ClearingDays {
  @PrimaryColumn('varchar') kind!: string
  @Column('tinyint') courtDays!: number
}

export const firmEntities = [Firm, UserAccount, UserRate, Activity, ClearingDays]

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
  @Column('varchar') letterLine!: string
  @Column('varchar') letterEmail!: string
  @Column('varchar') letterWeb!: string
  @Column('varchar') letterFoot!: string
  @Column('varchar') usualLeads!: string
  @Column('varchar') strictLeads!: string
  @Column('char') lettersFrom!: string
  @Column('varchar') mailName!: string
  @Column('varchar') mailAddress!: string
  @Column('varchar') mailHost!: string
  @Column('smallint') mailPort!: number
  @Column('varchar') mailSecurity!: 'none' | 'starttls' | 'tls'
  @Column('varchar') mailUser!: string
  @Column('varchar') mailPassword!: string
  @Column('varchar') filingAddress!: string
  @Column('varchar') reminderDays!: string
  @Column('varchar') timeFields!: string
  @Column('varchar') taxNumber!: string
  @Column('int', { nullable: true }) remindBy!: number | null
  @Column('varchar', { nullable: true }) remindedOn!: Day | null
  @Column('varchar') billGroup!: 'none' | 'person' | 'day' | 'activity'
  @Column('boolean') billSummary!: boolean
  @Column('boolean') billTrust!: boolean
  @Column('boolean') billSlip!: boolean
  @Column('varchar') flatFeeInAdvance!: 'trust' | 'income'
  @Column('char') yearEnd!: string
  @Column('tinyint') weekEnds!: number
  @Column('bigint') receiptFee!: number
  @Column('varchar') receiptFeeTo!: string
  @Column('int', { nullable: true }) taxSoftBasisPoints!: number | null
  @Column('int', { nullable: true }) taxHardBasisPoints!: number | null
  @Column('varchar') paymentOrder!: string
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
  @Column('varchar') zone!: string
  @Column('varchar') workFrom!: string
  @Column('varchar') workTo!: string
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

@Entity('absence')
export class Absence {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @Column('varchar') kind!: 'leave' | 'departure'
  @Column('varchar') fromDay!: Day
  @Column('varchar', { nullable: true }) toDay!: Day | null
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) endedAt!: string | null
  @Column('longtext', { nullable: true }) gives!: string | null
  @Column('varchar', { nullable: true }) begunAt!: string | null
}

@Entity('area_procedure')
export class AreaProcedure {
  @PrimaryColumn('int') areaId!: number
  @PrimaryColumn('int') procedureId!: number
}

@Entity('area_team')
export class AreaTeam {
  @PrimaryColumn('int') areaId!: number
  @PrimaryColumn('int') userId!: number
  @Column('varchar') role!: string
}

@Entity('backup')
export class Backup {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') wantedAt!: string
  @Column('int', { nullable: true }) userId!: number | null
  @Column('varchar', { nullable: true }) endedAt!: string | null
  @Column('varchar') state!: 'wanted' | 'running' | 'done' | 'failed'
  @Column('varchar') name!: string
  @Column('varchar') place!: string
  @Column('bigint') size!: number
  @Column('int') tables!: number
  @Column('bigint') rowCount!: number
  @Column('int') files!: number
  @Column('varchar', { nullable: true }) triedAt!: string | null
  @Column('boolean') restored!: boolean
  @Column('varchar') words!: string
}

@Entity('contact_kind_listed')
export class ContactKindListed {
  @PrimaryColumn('varchar') kind!: string
  @Column('smallint') ordinal!: number
}

@Entity('firm_holiday')
export class FirmHoliday {
  @PrimaryColumn('varchar') day!: Day
  @Column('varchar') name!: string
}

@Entity('handed_over')
export class HandedOver {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') absenceId!: number
  @Column('varchar') what!: 'lead' | 'team' | 'date' | 'task' | 'paper' | 'review'
  @Column('int') subjectId!: number
  @Column('int') toId!: number
  @Column('longtext') was!: string
  @Column('varchar', { nullable: true }) givenBackAt!: string | null
}

@Entity('listed_fee')
export class ListedFee {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('int', { nullable: true }) areaId!: number | null
  @Column('longtext') portions!: string
  @Column('boolean') retired!: boolean
}

export const firmEntities = [
  Firm,
  UserAccount,
  UserRate,
  Activity,
  ClearingDays,
  Absence,
  AreaProcedure,
  AreaTeam,
  Backup,
  ContactKindListed,
  FirmHoliday,
  HandedOver,
  ListedFee,
]

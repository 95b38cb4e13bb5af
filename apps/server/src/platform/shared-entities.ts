import type { Arrangement } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'

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

@Entity('clearing_days')
export class ClearingDays {
  @PrimaryColumn('varchar') kind!: string
  @Column('tinyint') courtDays!: number
}

@Entity('practice_area')
export class PracticeArea {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar', { nullable: true }) ruleSetKey!: string | null
  @Column('tinyint') staffFile!: number
  @Column('tinyint') staffDocket!: number
  @Column('tinyint') staffPapers!: number
  @Column('tinyint') staffMoney!: number
  @Column('tinyint') staffTrust!: number
  @Column('boolean') retired!: boolean
}

@Entity('matter')
export class Matter {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') number!: string
  @Column('varchar') name!: string
  @Column('varchar') shortName!: string
  @Column('varchar') kind!: 'client' | 'firm' | 'practice'
  @Column('int') clientId!: number
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('int', { nullable: true }) stageId!: number | null
  @Column('varchar') openedOn!: Day
  @Column('varchar', { nullable: true }) closedOn!: Day | null
  @Column('text') description!: string
  @Column('varchar') court!: string
  @Column('varchar') caseNumber!: string
  @Column('varchar') ourSide!: string
  @Column('varchar', { nullable: true }) ruleSetKey!: string | null
  @Column('varchar') facts!: string
  @Column('int') leadId!: number
  @ManyToOne(() => UserAccount) lead?: Relation<UserAccount>
  @Column('varchar') billing!: Arrangement
  @Column('int', { nullable: true }) billToId!: number | null
  @Column('varchar') access!: 'firm' | 'team'
  @Column('tinyint') staffFile!: number
  @Column('tinyint') staffDocket!: number
  @Column('tinyint') staffPapers!: number
  @Column('tinyint') staffMoney!: number
  @Column('tinyint') staffTrust!: number
  @Column('varchar') secondNumber!: string
  @Column('int', { nullable: true }) judgeId!: number | null
  @Column('int', { nullable: true }) originatingId!: number | null
  @Column('int', { nullable: true }) enquiryId!: number | null
  @Column('varchar') closingNote!: string
  @Column('int') version!: number
  @Column('bigint', { nullable: true }) conflictCheckId!: number | null
  @Column('varchar') activeOn!: Day
  @Column('varchar') clientName!: string
}

/** What every area reads: the firm, its people, its areas of practice and its matters. They stand below all areas. */
export const sharedEntities = [Firm, UserAccount, ClearingDays, PracticeArea, Matter]

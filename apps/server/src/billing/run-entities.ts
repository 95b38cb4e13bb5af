import type { Day } from '@heron/core/calendar'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Bill } from './entities'
import { Matter, UserAccount } from '../platform/shared-entities'

@Entity('bill_run')
export class BillRun {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') what!: 'make' | 'issue'
  @Column('varchar') day!: Day
  @Column('boolean', { default: false }) send!: boolean
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') beganAt!: string
  @Column('varchar', { nullable: true }) endedAt!: string | null
}

@Entity('bill_run_item')
export class BillRunItem {
  @PrimaryColumn('int') runId!: number
  @ManyToOne(() => BillRun) run?: Relation<BillRun>
  @PrimaryColumn('int') ordinal!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int', { nullable: true }) preBillId!: number | null
  @Column('varchar', { default: 'waiting' }) state!: 'waiting' | 'done' | 'refused'
  @Column('varchar', { default: '' }) words!: string
}

@Entity('bill_sent')
export class BillSent {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') billId!: number
  @ManyToOne(() => Bill) bill?: Relation<Bill>
  @Column('varchar') kind!: string
  @Column('varchar') at!: string
  @Column('varchar') name!: string
  @Column('varchar') address!: string
  @Column('varchar') mailKey!: string
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('bill_letter')
export class BillLetter {
  @PrimaryColumn('varchar') kind!: string
  @PrimaryColumn('varchar') language!: 'en' | 'es'
  @Column('varchar') subject!: string
  @Column('text') body!: string
}

/** Under what the lines of a bill stand. */
export type BillGroup = 'none' | 'person' | 'day' | 'activity'

@Entity('bill_terms')
export class BillTerms {
  @PrimaryColumn('varchar') owner!: 'matter' | 'client'
  @PrimaryColumn('int') ownerId!: number
  @Column('smallint', { nullable: true }) dueDays!: number | null
  @Column('smallint', { nullable: true }) interestBasisPoints!: number | null
  @Column('smallint', { nullable: true }) graceDays!: number | null
  @Column('varchar', { nullable: true }) format!: 'pdf' | 'ledes' | null
  @Column('varchar') theirNumber!: string
  @Column('smallint', { nullable: true }) discountBasisPoints!: number | null
  @Column('smallint', { nullable: true }) taxFees!: number | null
  @Column('smallint', { nullable: true }) taxSoftCosts!: number | null
  @Column('smallint', { nullable: true }) taxHardCosts!: number | null
  @Column('varchar', { nullable: true }) language!: 'en' | 'es' | null
  @Column('varchar', { nullable: true }) billGroup!: BillGroup | null
  @Column('boolean', { nullable: true }) billSummary!: boolean | null
  @Column('boolean', { nullable: true }) billTrust!: boolean | null
  @Column('boolean', { nullable: true }) billSlip!: boolean | null
  @Column('bigint', { nullable: true }) budget!: number | null
  @Column('boolean') capped!: boolean
  /** Whole percent, and ids of people, between commas. */
  @Column('varchar') warnAt!: string
  @Column('varchar') warnIds!: string
}

@Entity('bill_interest')
export class BillInterest {
  @PrimaryColumn('int') billId!: number
  @ManyToOne(() => Bill) bill?: Relation<Bill>
  @Column('int') ofBillId!: number
  @ManyToOne(() => Bill) ofBill?: Relation<Bill>
  @Column('varchar') accruedTo!: string
  @Column('bigint') amount!: number
}

@Entity('bill_dispute')
export class BillDispute {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') billId!: number
  @ManyToOne(() => Bill) bill?: Relation<Bill>
  @Column('varchar') since!: string
  @Column('varchar') reason!: string
  @Column('int') byId!: number
  @ManyToOne(() => UserAccount) by?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) endedOn!: Day | null
  @Column({ type: 'int', nullable: true, insert: false, update: false }) openBill!: number | null
}

export const runEntities = [BillRun, BillRunItem, BillSent, BillLetter, BillTerms, BillInterest, BillDispute]

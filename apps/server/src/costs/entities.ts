import type { Day } from '@heron/core/calendar'
import { Column, Entity, ManyToOne, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter } from '../platform/shared-entities'
import type { Journal } from '../ledger'

@Entity('cost_kind')
export class CostKind {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') code!: string
  @Column('varchar') name!: string
  @Column('boolean') hard!: boolean
  @Column('varchar') unit!: string
  /** Hundredths of a cent. */
  @Column('bigint', { nullable: true }) unitRate!: number | null
  @Column('smallint') markupBasisPoints!: number
  @Column('boolean') taxable!: boolean
  @Column('boolean') billable!: boolean
  @Column('varchar') expenseCode!: string
  @Column('boolean') retired!: boolean
}

@Entity('cost_entry')
export class CostEntry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') day!: Day
  @Column('varchar') kind!: 'soft cost' | 'hard cost'
  @Column('int', { nullable: true }) kindId!: number | null
  @Column('varchar') text!: string
  /** Thousandths, at hundredths of a cent each. */
  @Column('bigint', { nullable: true }) units!: number | null
  @Column('bigint', { nullable: true }) unitRate!: number | null
  /** What it cost the firm; `amount` is what the client is charged. */
  @Column('bigint') paid!: number
  @Column('bigint') amount!: number
  @Column('varchar') payee!: string
  @Column('boolean') billable!: boolean
  @Column('boolean', { nullable: true }) taxable!: boolean | null
  /** `before`: before the firm moved in, against opening clearing. */
  @Column('varchar', { nullable: true }) paidFrom!: 'operating' | 'trust' | 'owed' | 'before' | null
  @Column('varchar') state!: 'recorded' | 'reversed'
  @Column('int', { nullable: true }) receiptId!: number | null
  @Column('int', { nullable: true }) paymentOutId!: number | null
  @Column('varchar', { nullable: true }) settledOn!: Day | null
  /** The bill of a vendor by which it came: it is paid and taken back with that. */
  @Column('int', { nullable: true }) vendorBillId!: number | null
  @Column('int', { nullable: true }) recurringId!: number | null
  /** The receipt into trust for whose fee it stands. */
  @Column('int', { nullable: true }) depositReceiptId!: number | null
  @Column('int') enteredBy!: number
  @Column('bigint', { nullable: true }) journalId!: number | null
  /** What took it back. */
  @Column('bigint', { nullable: true }) reversalId!: number | null
  @ManyToOne('Journal') reversal?: Relation<Journal>
  @Column('int', { nullable: true }) billId!: number | null
  @Column('varchar') createdAt!: string
  @Column({ type: 'bigint', nullable: true, insert: false, update: false }) openAmount!: number | null
}

@Entity('recurring_cost')
export class RecurringCost {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int') kindId!: number
  @ManyToOne(() => CostKind) kind?: Relation<CostKind>
  @Column('varchar') text!: string
  @Column('bigint', { nullable: true }) units!: number | null
  @Column('bigint', { nullable: true }) amount!: number | null
  @Column('varchar') payee!: string
  @Column('varchar') paidFrom!: 'operating' | 'owed'
  @Column('tinyint') dayOfMonth!: number
  @Column('varchar', { nullable: true }) nextOn!: Day | null
  @Column('varchar', { nullable: true }) until!: string | null
  @Column('varchar') fault!: string
  @Column('int') madeBy!: number
}

export const costEntities = [CostKind, CostEntry, RecurringCost]

import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('bill')
export class Bill {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') number!: string
  @Column('int') matterId!: number
  /** Null on bills from before split bills; their pre-bill points at them. */
  @Column('int', { nullable: true }) preBillId!: number | null
  @Column('int') payerId!: number
  @Column('varchar') issuedOn!: Day
  @Column('varchar') dueOn!: Day
  @Column('varchar') workTo!: Day
  @Column('bigint') worked!: number
  @Column('bigint') fees!: number
  @Column('bigint') hardCosts!: number
  @Column('bigint') softCosts!: number
  @Column('bigint') discount!: number
  @Column('bigint') tax!: number
  @Column('bigint') total!: number
  @Column('longtext') snapshot!: string
  @Column('bigint') journalId!: number
  @Column('int') issuedBy!: number
}

/** What a bill leaves open, with what lists of bills are ordered by; kept by triggers. */
@Entity('bill_figure')
export class BillFigure {
  @PrimaryColumn('int') billId!: number
  @Column('int') matterId!: number
  @Column('int') payerId!: number
  @Column('varchar') issuedOn!: Day
  @Column('varchar') dueOn!: Day
  @Column('bigint') openAmount!: number
  @Column('boolean') isOpen!: boolean
}

@Entity('bill_line')
export class BillLine {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') billId!: number
  @Column('smallint') ordinal!: number
  @Column('varchar') kind!: 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest' | 'tax'
  @Column('varchar', { nullable: true }) day!: Day | null
  @Column('int', { nullable: true }) timekeeperId!: number | null
  @Column('varchar') timekeeperName!: string
  @Column('varchar') text!: string
  @Column('smallint', { nullable: true }) minutes!: number | null
  @Column('bigint', { nullable: true }) rate!: number | null
  @Column('bigint') worked!: number
  @Column('bigint') charged!: number
  @Column('boolean') noCharge!: boolean
  @Column('bigint') discount!: number
  @Column('bigint') net!: number
  @Column('int', { nullable: true }) sourceId!: number | null
  /** Of a cost: what of it the firm advanced; null where all of it. */
  @Column('bigint', { nullable: true }) advanced!: number | null
  @Column('boolean', { nullable: true }) taxable!: boolean | null
  /** Stands here for information, and is never charged. */
  @Column('boolean') told!: boolean
  /** The rate that it bore, or that a tax is of; null on bills of before. */
  @Column('int', { nullable: true }) taxBasisPoints!: number | null
  @Column('varchar', { nullable: true }) timeCharge!: 'billable' | 'no charge' | 'non-billable' | null
  @Column('boolean', { nullable: true }) timeCovered!: boolean | null
}

@Entity('bill_pdf')
export class BillPdf {
  @PrimaryColumn('int') billId!: number
  @Column('bigint') fileId!: number
  @Column('char') sha256!: string
  @Column('varchar') madeAt!: string
}

@Entity('pre_bill')
export class PreBill {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('int') payerId!: number
  @Column('varchar') workTo!: Day
  @Column('bigint') discountAmount!: number
  @Column('int') discountBasisPoints!: number
  @Column('int') taxBasisPoints!: number
  @Column('int', { nullable: true }) taxSoftBasisPoints!: number | null
  @Column('int', { nullable: true }) taxHardBasisPoints!: number | null
  @Column('varchar') state!: 'review' | 'approved' | 'issued'
  @Column('int', { nullable: true }) billId!: number | null
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('int', { nullable: true }) approvedBy!: number | null
  @Column('varchar', { nullable: true }) stateSince!: string | null
  /** Kept with each change; null on those from before. */
  @Column('bigint', { nullable: true }) total!: number | null
  @Column('int', { nullable: true }) lineCount!: number | null
  @Column({ type: 'int', nullable: true, insert: false, update: false }) openMatter!: number | null
}

@Entity('pre_bill_comment')
export class PreBillComment {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') preBillId!: number
  @Column('int') userId!: number
  @Column('varchar') at!: string
  @Column('varchar') text!: string
}

@Entity('pre_bill_line')
export class PreBillLine {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') preBillId!: number
  @Column('smallint') ordinal!: number
  @Column('varchar') kind!: 'time' | 'flat' | 'soft cost' | 'hard cost'
  @Column('int') sourceId!: number
  @Column('varchar', { nullable: true }) day!: Day | null
  @Column('int', { nullable: true }) timekeeperId!: number | null
  @Column('varchar') text!: string
  @Column('smallint', { nullable: true }) minutes!: number | null
  @Column('bigint', { nullable: true }) rate!: number | null
  @Column('bigint') worked!: number
  @Column('bigint') charged!: number
  @Column('boolean') noCharge!: boolean
  @Column('boolean') heldBack!: boolean
  @Column('bigint', { nullable: true }) advanced!: number | null
  @Column('boolean', { nullable: true }) taxable!: boolean | null
  @Column('boolean') told!: boolean
  @Column('int', { nullable: true }) mergedInto!: number | null
}

export type PaymentKind = 'trust' | 'check' | 'card' | 'transfer' | 'bank debit' | 'credit note' | 'write-off' | 'void'

/** A document that settles bills: money, or what lessens them without any. */
@Entity('payment')
export class Payment {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') kind!: PaymentKind
  @Column('int') payerId!: number
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('varchar') reference!: string
  @Column('int', { nullable: true }) ledgerId!: number | null
  @Column('bigint') journalId!: number
  @Column('varchar') createdAt!: string
  /** Of a credit note, in a series of its own without gaps. */
  @Column('varchar', { nullable: true }) number!: string | null
  @Column('varchar') reason!: string
  @Column('int', { nullable: true }) bankAccountId!: number | null
}

@Entity('allocation')
export class Allocation {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') paymentId!: number
  @Column('int') billId!: number
  @Column('int') billLineId!: number
  @Column('bigint') amount!: number
  @Column('varchar') appliedOn!: Day
  @Column('bigint', { nullable: true }) journalId!: number | null
  /** More rows of the same bill and document follow in this act; with the last of them the figures are reckoned. */
  @Column('boolean') more!: boolean
}

@Entity('allocation_share')
export class AllocationShare {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') allocationId!: number
  /** Set by the database from the bill. */
  @Column('int') matterId!: number
  @Column('int') timekeeperId!: number
  @Column('bigint') amount!: number
  @Column('varchar') appliedOn!: Day
}

@Entity('bill_line_share')
export class BillLineShare {
  @PrimaryColumn('int') billLineId!: number
  @PrimaryColumn('int') timekeeperId!: number
  @Column('bigint') weight!: number
}

@Entity('credit_use')
export class CreditUse {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') paymentId!: number
  @Column('varchar') kind!: 'refund' | 'to trust'
  @Column('bigint') amount!: number
  @Column('varchar') day!: Day
  @Column('varchar') reference!: string
  @Column('bigint') journalId!: number
}

@Entity('matter_fee_share')
export class MatterFeeShare {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('int') userId!: number
  @Column('int') basisPoints!: number
}

@Entity('payment_credit')
export class PaymentCredit {
  @PrimaryColumn('int') paymentId!: number
  @Column('bigint') amount!: number
}

/** How much of a document is applied to lines of bills. */
@Entity('payment_applied')
export class PaymentApplied {
  @PrimaryColumn('int') paymentId!: number
  @Column('bigint') amount!: number
}

@Entity('payment_reversal')
export class PaymentReversal {
  @PrimaryColumn('int') paymentId!: number
  @Column('bigint') journalId!: number
  @Column('varchar') day!: Day
  @Column('varchar') reason!: string
}

@Entity('pre_bill_payer')
export class PreBillPayer {
  @PrimaryColumn('int') preBillId!: number
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('int') contactId!: number
  @Column('bigint', { nullable: true }) fixed!: number | null
  @Column('smallint', { nullable: true }) basisPoints!: number | null
}

@Entity('settlement')
export class Settlement {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('varchar') recoveredOn!: Day
  @Column('varchar') fromWhom!: string
  @Column('bigint') gross!: number
  @Column('varchar') feeOf!: 'gross' | 'net of costs'
  @Column('varchar') stage!: string
  @Column('int') numerator!: number
  @Column('int') denominator!: number
  @Column('bigint') fee!: number
  @Column('bigint') costs!: number
  @Column('bigint') owed!: number
  @Column('bigint') tax!: number
  @Column('bigint') toClient!: number
  @Column('bigint') billed!: number
  @Column('longtext') snapshot!: string
  @Column('int', { nullable: true }) portionId!: number | null
  @Column('int', { nullable: true }) clientPaymentId!: number | null
  @Column('varchar', { nullable: true }) withdrawnOn!: Day | null
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
}

@Entity('settlement_lien')
export class SettlementLien {
  @PrimaryColumn('int') settlementId!: number
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('varchar') payee!: string
  @Column('varchar') address!: string
  @Column('varchar') text!: string
  @Column('bigint') amount!: number
  @Column('int', { nullable: true }) paymentId!: number | null
}

@Entity('transfer_sheet')
export class TransferSheet {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') number!: number
  @Column('int') bankAccountId!: number
  @Column('int') operatingAccountId!: number
  @Column('varchar') day!: Day
  @Column('bigint') total!: number
  @Column('smallint') bills!: number
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
}

export const billingEntities = [
  Bill,
  BillFigure,
  BillLine,
  BillPdf,
  PreBill,
  PreBillComment,
  PreBillLine,
  Payment,
  Allocation,
  AllocationShare,
  BillLineShare,
  CreditUse,
  MatterFeeShare,
  PaymentCredit,
  PaymentApplied,
  PaymentReversal,
  PreBillPayer,
  Settlement,
  SettlementLien,
  TransferSheet,
]

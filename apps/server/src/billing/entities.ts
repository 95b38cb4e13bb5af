import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../platform/shared-entities'
import { StoredFile } from '../platform/entities'
import type { BankAccount, Journal, PaymentOut } from '../ledger'
import type { Contact } from '../people'

@Entity('bill')
export class Bill {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') number!: string
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  /** Null on bills from before split bills; their pre-bill points at them. */
  @Column('int', { nullable: true }) preBillId!: number | null
  @Column('int') payerId!: number
  @ManyToOne('Contact') payer?: Relation<Contact>
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
  @ManyToOne(() => Bill) bill?: Relation<Bill>
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
  @ManyToOne(() => Bill) bill?: Relation<Bill>
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
  @ManyToOne(() => Bill) bill?: Relation<Bill>
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('char') sha256!: string
  @Column('varchar') madeAt!: string
}

@Entity('pre_bill')
export class PreBill {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int') payerId!: number
  @ManyToOne('Contact') payer?: Relation<Contact>
  @Column('varchar') workTo!: Day
  @Column('bigint') discountAmount!: number
  @Column('int') discountBasisPoints!: number
  @Column('int') taxBasisPoints!: number
  @Column('int', { nullable: true }) taxSoftBasisPoints!: number | null
  @Column('int', { nullable: true }) taxHardBasisPoints!: number | null
  @Column('varchar') state!: 'review' | 'approved' | 'issued'
  @Column('int', { nullable: true }) billId!: number | null
  @ManyToOne(() => Bill) bill?: Relation<Bill>
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
  @ManyToOne(() => PreBill) preBill?: Relation<PreBill>
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') at!: string
  @Column('varchar') text!: string
}

@Entity('pre_bill_line')
export class PreBillLine {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') preBillId!: number
  @ManyToOne(() => PreBill) preBill?: Relation<PreBill>
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
  @ManyToOne('Contact') payer?: Relation<Contact>
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('varchar') reference!: string
  @Column('int', { nullable: true }) ledgerId!: number | null
  @Column('bigint') journalId!: number
  @ManyToOne('Journal') journal?: Relation<Journal>
  @Column('varchar') createdAt!: string
  /** Of a credit note, in a series of its own without gaps. */
  @Column('varchar', { nullable: true }) number!: string | null
  @Column('varchar') reason!: string
  @Column('int', { nullable: true }) bankAccountId!: number | null
  @ManyToOne('BankAccount') bankAccount?: Relation<BankAccount>
}

@Entity('allocation')
export class Allocation {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') paymentId!: number
  @ManyToOne(() => Payment) payment?: Relation<Payment>
  @Column('int') billId!: number
  @Column('int') billLineId!: number
  @ManyToOne(() => BillLine) billLine?: Relation<BillLine>
  @Column('bigint') amount!: number
  @Column('varchar') appliedOn!: Day
  @Column('bigint', { nullable: true }) journalId!: number | null
  @ManyToOne('Journal') journal?: Relation<Journal>
  /** More rows of the same bill and document follow in this act; with the last of them the figures are reckoned. */
  @Column('boolean') more!: boolean
}

@Entity('allocation_share')
export class AllocationShare {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') allocationId!: number
  @ManyToOne(() => Allocation) allocation?: Relation<Allocation>
  /** Set by the database from the bill. */
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int') timekeeperId!: number
  @Column('bigint') amount!: number
  @Column('varchar') appliedOn!: Day
}

@Entity('bill_line_share')
export class BillLineShare {
  @PrimaryColumn('int') billLineId!: number
  @ManyToOne(() => BillLine) billLine?: Relation<BillLine>
  @PrimaryColumn('int') timekeeperId!: number
  @Column('bigint') weight!: number
}

@Entity('credit_use')
export class CreditUse {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') paymentId!: number
  @ManyToOne(() => Payment) payment?: Relation<Payment>
  @Column('varchar') kind!: 'refund' | 'to trust'
  @Column('bigint') amount!: number
  @Column('varchar') day!: Day
  @Column('varchar') reference!: string
  @Column('bigint') journalId!: number
  @ManyToOne('Journal') journal?: Relation<Journal>
}

@Entity('matter_fee_share')
export class MatterFeeShare {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('int') basisPoints!: number
}

@Entity('payment_credit')
export class PaymentCredit {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne(() => Payment) payment?: Relation<Payment>
  @Column('bigint') amount!: number
}

/** How much of a document is applied to lines of bills. */
@Entity('payment_applied')
export class PaymentApplied {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne(() => Payment) payment?: Relation<Payment>
  @Column('bigint') amount!: number
}

@Entity('payment_reversal')
export class PaymentReversal {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne(() => Payment) payment?: Relation<Payment>
  @Column('bigint') journalId!: number
  @ManyToOne('Journal') journal?: Relation<Journal>
  @Column('varchar') day!: Day
  @Column('varchar') reason!: string
}

@Entity('pre_bill_payer')
export class PreBillPayer {
  @PrimaryColumn('int') preBillId!: number
  @ManyToOne(() => PreBill) preBill?: Relation<PreBill>
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('int') contactId!: number
  @ManyToOne('Contact') contact?: Relation<Contact>
  @Column('bigint', { nullable: true }) fixed!: number | null
  @Column('smallint', { nullable: true }) basisPoints!: number | null
}

@Entity('settlement')
export class Settlement {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
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
  @ManyToOne('PaymentOut') clientPayment?: Relation<PaymentOut>
  @Column('varchar', { nullable: true }) withdrawnOn!: Day | null
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
}

@Entity('settlement_lien')
export class SettlementLien {
  @PrimaryColumn('int') settlementId!: number
  @ManyToOne(() => Settlement) settlement?: Relation<Settlement>
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('varchar') payee!: string
  @Column('varchar') address!: string
  @Column('varchar') text!: string
  @Column('bigint') amount!: number
  @Column('int', { nullable: true }) paymentId!: number | null
  @ManyToOne('PaymentOut') payment?: Relation<PaymentOut>
}

@Entity('transfer_sheet')
export class TransferSheet {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') number!: number
  @Column('int') bankAccountId!: number
  @ManyToOne('BankAccount') bankAccount?: Relation<BankAccount>
  @Column('int') operatingAccountId!: number
  @ManyToOne('BankAccount') operatingAccount?: Relation<BankAccount>
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

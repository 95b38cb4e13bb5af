import type { Day } from '@heron/core/calendar'
import type { AccountRole, LedgerKindName } from '@heron/core/ledger'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../platform/shared-entities'
import type { Contact } from '../people'

@Entity('account')
export class Account {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') code!: string
  @Column('varchar') name!: string
  @Column('varchar') kind!: 'asset' | 'liability' | 'equity' | 'income' | 'expense'
  @Column('varchar', { nullable: true }) role!: AccountRole | null
  @Column('int', { nullable: true }) parentId!: number | null
  @ManyToOne(() => Account) parent?: Relation<Account>
  /** Nothing is entered into it by hand any more. */
  @Column('boolean') closed!: boolean
}

@Entity('bank_account')
export class BankAccount {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') kind!: 'pooled' | 'separate' | 'operating'
  @Column('varchar') bank!: string
  @Column('varchar') ending!: string
  @Column('int') glAccountId!: number
  @ManyToOne(() => Account) glAccount?: Relation<Account>
  @Column('int', { nullable: true }) liabilityAccountId!: number | null
  @ManyToOne(() => Account) liabilityAccount?: Relation<Account>
  @Column('int') nextCheck!: number
  /** Of its kind it is offered first. */
  @Column('boolean') usual!: boolean
  /** Whose money a separate account holds, and when it matures. */
  @Column('int', { nullable: true }) clientId!: number | null
  @ManyToOne('Contact') client?: Relation<Contact>
  @Column('varchar', { nullable: true }) maturesOn!: Day | null
  @Column('smallint') staleDays!: number
  @Column('smallint') unclaimedDays!: number
  /** Whether what goes out of it is approved by a second person. */
  @Column('boolean') twoPeople!: boolean
  /** Days within which a movement of the bank is near one of the book. */
  @Column('tinyint') nearDays!: number
  /** Whether checks go into a print job of whoever posts them, at once. */
  @Column('boolean') printAtOnce!: boolean
}

@Entity('client_ledger')
export class ClientLedger {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') kind!: LedgerKindName
  @Column('int', { nullable: true }) clientId!: number | null
  @ManyToOne('Contact') client?: Relation<Contact>
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') ownerKey!: string
}

@Entity('journal')
export class Journal {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') day!: Day
  @Column('varchar') kind!: string
  @Column('varchar') memo!: string
  @Column('varchar') subject!: string
  @Column('bigint', { nullable: true }) subjectId!: number | null
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') createdAt!: string
}

@Entity('journal_line')
export class JournalLine {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') accountId!: number
  @ManyToOne(() => Account) account?: Relation<Account>
  @Column('bigint') amount!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('int', { nullable: true }) timekeeperId!: number | null
  @Column('int', { nullable: true }) billId!: number | null
  /** As its journal has it; written by the database. */
  @Column('varchar', { nullable: true }) day!: Day | null
}

@Entity('bank_entry')
export class BankEntry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('varchar') kind!: string
  @Column('varchar') reference!: string
  @Column('varchar') text!: string
}

@Entity('ledger_entry')
export class LedgerEntry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('varchar', { nullable: true }) clearsOn!: Day | null
  @Column('varchar') text!: string
}

@Entity('clearing_override')
export class ClearingOverride {
  @PrimaryColumn('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') reason!: string
}

@Entity('journal_posting')
export class JournalPosting {
  @PrimaryColumn('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('varchar') postedAt!: string
}

@Entity('journal_reversal')
export class JournalReversal {
  @PrimaryColumn('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('bigint') reversalId!: number
  @ManyToOne(() => Journal) reversal?: Relation<Journal>
  @Column('varchar') reason!: string
}

@Entity('deposit_sheet')
export class DepositSheet {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') number!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') day!: Day
  @Column('int') version!: number
  @Column('bigint') controlTotal!: number
  @Column('varchar') state!: 'draft' | 'posted'
  @Column('bigint', { nullable: true }) journalId!: number | null
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
}

@Entity('deposit_receipt')
export class DepositReceipt {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') sheetId!: number
  @ManyToOne(() => DepositSheet) sheet?: Relation<DepositSheet>
  @Column('smallint') ordinal!: number
  @Column('int') receiptNo!: number
  @Column('int', { nullable: true }) clientId!: number | null
  @ManyToOne('Contact') client?: Relation<Contact>
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') depositor!: string
  @Column('varchar') kind!: 'check' | "cashier's check" | 'cash' | 'wire' | 'card' | 'bank debit'
  @Column('varchar') reference!: string
  @Column('varchar') text!: string
  @Column('bigint') amount!: number
  /** The administration fee that is charged to the matter when this is posted. */
  @Column('bigint') fee!: number
}

@Entity('payment_out')
export class PaymentOut {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('varchar') method!: 'check' | 'wire' | 'transfer'
  @Column('int', { nullable: true }) checkNo!: number | null
  @Column('varchar') day!: Day
  /** Where it was written before the firm moved in: when. */
  @Column('varchar', { nullable: true }) writtenOn!: Day | null
  /** The receipt that it gives back to whoever deposited it. */
  @Column('int', { nullable: true }) refundOf!: number | null
  @Column('varchar') payeeName!: string
  @Column('varchar') payeeAddress!: string
  @Column('bigint') amount!: number
  @Column('varchar') memo!: string
  @Column('varchar') state!: 'draft' | 'posted' | 'void' | 'dropped'
  @Column('varchar') overrideReason!: string
  @Column('bigint', { nullable: true }) journalId!: number | null
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('int', { nullable: true }) approvedBy!: number | null
  @Column('varchar', { nullable: true }) approvedAt!: string | null
}

@Entity('check_number')
export class CheckNumber {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @PrimaryColumn('int') number!: number
  @Column('int', { nullable: true }) paymentId!: number | null
  @ManyToOne(() => PaymentOut) payment?: Relation<PaymentOut>
  /** A payment out of operating. */
  @Column('int', { nullable: true }) firmPaymentId!: number | null
  @Column('varchar') usedAt!: string
  /** What happened to a number that nothing was written on; empty where it was used. */
  @Column('varchar') spoiled!: string
}

@Entity('ledger_hold')
export class LedgerHold {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('bigint') amount!: number
  @Column('varchar') kind!: string
  @Column('varchar') reason!: string
  @Column('int', { nullable: true }) laidBy!: number | null
  @Column('varchar', { nullable: true }) laidAt!: string | null
  @Column('varchar', { nullable: true }) releasedAt!: string | null
  @Column('int', { nullable: true }) releasedBy!: number | null
  @Column('varchar') releaseReason!: string
}

@Entity('standing_check')
export class StandingCheck {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') at!: string
  @Column('boolean') ok!: boolean
  @Column('longtext') detail!: string
  /** Whether every entry was read, and not the sums that are kept by day. */
  @Column('boolean') whole!: boolean
}

@Entity('ledger_day')
export class LedgerDay {
  @PrimaryColumn('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @PrimaryColumn('varchar') day!: Day
  @Column('bigint') balance!: number
  /** Day and balance in one number, for what many ledgers held on a day: only the database reads it. */
  @Column('bigint') closing!: string
}

export const ledgerEntities = [
  Account,
  BankAccount,
  ClientLedger,
  Journal,
  JournalLine,
  BankEntry,
  LedgerEntry,
  ClearingOverride,
  JournalPosting,
  JournalReversal,
  DepositSheet,
  DepositReceipt,
  PaymentOut,
  CheckNumber,
  LedgerHold,
  StandingCheck,
  LedgerDay,
]

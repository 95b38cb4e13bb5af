import type { Day } from '@heron/core/calendar'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { BankAccount, ClientLedger, DepositReceipt, Journal, LedgerEntry } from '../entities'
import { Matter } from '../../platform/shared-entities'
import type { Contact } from '../../people'

@Entity('bank_did')
export class BankDid {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') what!: 'returned' | 'charge'
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('int', { nullable: true }) receiptId!: number | null
  @ManyToOne(() => DepositReceipt) receipt?: Relation<DepositReceipt>
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('bigint') cover!: number
  @Column('int', { nullable: true }) operatingId!: number | null
  @ManyToOne(() => BankAccount) operating?: Relation<BankAccount>
  @Column('varchar') text!: string
  @Column('int') userId!: number
}

@Entity('cover_landed')
export class CoverLanded {
  @PrimaryColumn('int') didId!: number
  @ManyToOne(() => BankDid) did?: Relation<BankDid>
  @Column('varchar') day!: Day
  @Column('int') userId!: number
}

@Entity('cover_repaid')
export class CoverRepaid {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') didId!: number
  @ManyToOne(() => BankDid) did?: Relation<BankDid>
  @Column('bigint') amount!: number
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
}

@Entity('receipt_owner')
export class ReceiptOwner {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') receiptId!: number
  @ManyToOne(() => DepositReceipt) receipt?: Relation<DepositReceipt>
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('bigint') amount!: number
  @Column('varchar') reason!: string
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') userId!: number
}

@Entity('trust_correction')
export class TrustCorrection {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') entryId!: number
  @ManyToOne(() => LedgerEntry) entry?: Relation<LedgerEntry>
  @Column('int') clientId!: number
  @ManyToOne('Contact') client?: Relation<Contact>
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('bigint') amount!: number
  @Column('varchar') day!: Day
  @Column('varchar') reason!: string
  @Column('varchar') state!: 'asked' | 'posted' | 'refused'
  @Column('int') askedBy!: number
  @Column('varchar') askedAt!: string
  @Column('int', { nullable: true }) decidedBy!: number | null
  @Column('varchar', { nullable: true }) decidedAt!: string | null
  @Column('varchar') decision!: string
  @Column('bigint', { nullable: true }) journalId!: number | null
  @ManyToOne(() => Journal) journal?: Relation<Journal>
}

@Entity('trust_interest')
export class TrustInterest {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') ledgerId!: number
  @ManyToOne(() => ClientLedger) ledger?: Relation<ClientLedger>
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
}

export const actEntities = [BankDid, CoverLanded, CoverRepaid, ReceiptOwner, TrustCorrection, TrustInterest]

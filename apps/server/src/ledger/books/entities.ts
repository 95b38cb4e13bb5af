import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Account, BankAccount, Journal } from '../entities'
import { UserAccount } from '../../platform/shared-entities'

@Entity('account_day')
export class AccountDay {
  @PrimaryColumn('int') accountId!: number
  @ManyToOne(() => Account) account?: Relation<Account>
  @PrimaryColumn('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('int') lineCount!: number
  @Column('bigint') debit!: number
}

/** What a bank account moved on a day: by the bank book, and by its client ledgers, with those of no known owner and the firm's own told. */
@Entity('bank_day')
export class BankDay {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @PrimaryColumn('varchar') day!: Day
  @Column('bigint') bank!: number
  @Column('bigint') ledgers!: number
  @Column('bigint') unidentified!: number
  @Column('bigint') firm!: number
}

@Entity('account_day_mark')
export class AccountDayMark {
  @PrimaryColumn('tinyint') id!: number
  @Column('bigint') upTo!: number
  @Column('bigint') nextUpTo!: number
  @Column('varchar') seenAt!: string
  /** Journals that did not balance when their lines were added up. */
  @Column('int') unbalanced!: number
}

@Entity('cash_shift')
export class CashShift {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') accountId!: number
  @ManyToOne(() => Account) account?: Relation<Account>
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
}

@Entity('closing_journal')
export class ClosingJournal {
  @PrimaryColumn('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('varchar') yearTo!: Day
  @Column('bigint', { nullable: true }) undoneBy!: number | null
}

@Entity('journal_template')
export class JournalTemplate {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') memo!: string
  @Column('longtext') lineList!: string
  @Column('tinyint', { nullable: true }) dayOfMonth!: number | null
  @Column('tinyint', { nullable: true }) everyMonths!: number | null
  @Column('varchar', { nullable: true }) nextOn!: Day | null
  @Column('varchar', { nullable: true }) until!: Day | null
  @Column('varchar') fault!: string
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
}

@Entity('moved_in')
export class MovedIn {
  @PrimaryColumn('bigint') journalId!: number
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int', { nullable: true }) bankAccountId!: number | null
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') day!: Day
}

@Entity('partner_share')
export class PartnerShare {
  @PrimaryColumn('int') accountId!: number
  @ManyToOne(() => Account) account?: Relation<Account>
  @Column('smallint') basisPoints!: number
}

export const bookEntities = [AccountDay, AccountDayMark, BankDay, CashShift, ClosingJournal, JournalTemplate, MovedIn, PartnerShare]

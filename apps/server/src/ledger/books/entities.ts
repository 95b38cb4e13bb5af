import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('account_day')
export class AccountDay {
  @PrimaryColumn('int') accountId!: number
  @PrimaryColumn('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('int') lineCount!: number
  @Column('bigint') debit!: number
}

/** What a bank account moved on a day: by the bank book, and by its client ledgers, with those of no known owner and the firm's own told. */
@Entity('bank_day')
export class BankDay {
  @PrimaryColumn('int') bankAccountId!: number
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
  @Column('int') accountId!: number
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
}

@Entity('closing_journal')
export class ClosingJournal {
  @PrimaryColumn('bigint') journalId!: number
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
}

@Entity('moved_in')
export class MovedIn {
  @PrimaryColumn('bigint') journalId!: number
  @Column('int', { nullable: true }) bankAccountId!: number | null
  @Column('varchar') day!: Day
}

@Entity('partner_share')
export class PartnerShare {
  @PrimaryColumn('int') accountId!: number
  @Column('smallint') basisPoints!: number
}

export const bookEntities = [AccountDay, AccountDayMark, BankDay, CashShift, ClosingJournal, JournalTemplate, MovedIn, PartnerShare]

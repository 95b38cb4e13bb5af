import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Account, BankAccount, BankEntry } from '../entities'
import { UserAccount } from '../../platform/shared-entities'

@Entity('bank_closed')
export class BankClosed {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') toDay!: Day
}

@Entity('bank_csv_match')
export class BankCsvMatch {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('longtext') columns!: string
}

@Entity('bank_line')
export class BankLine {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') statementId!: number
  @ManyToOne(() => BankStatement) statement?: Relation<BankStatement>
  @Column('int') bankAccountId!: number
  @Column('varchar') day!: Day
  @Column('varchar') countsOn!: Day
  @Column('bigint') amount!: number
  @Column('varchar') bankId!: string
  @Column('varchar') checkNo!: string
  @Column('varchar') reference!: string
  @Column('varchar') kind!: string
  @Column('varchar') text!: string
  @Column('longtext') details!: string
}

@Entity('bank_line_name')
export class BankLineName {
  @PrimaryColumn('bigint') lineId!: number
  @ManyToOne(() => BankLine) line?: Relation<BankLine>
  @Column('varchar') words!: string
  @Column('int') userId!: number
}

@Entity('bank_match')
export class BankMatch {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') way!: string
  @Column('varchar') why!: string
  @Column('bigint') difference!: number
  @Column('varchar') named!: string
  @Column('varchar') lineDay!: Day
  @Column('varchar') entryDay!: Day
  @Column('int', { nullable: true }) userId!: number | null
  @Column('varchar') at!: string
}

@Entity('bank_match_entry')
export class BankMatchEntry {
  @PrimaryColumn('bigint') entryId!: number
  @ManyToOne(() => BankEntry) entry?: Relation<BankEntry>
  @Column('int') matchId!: number
  @ManyToOne(() => BankMatch) match?: Relation<BankMatch>
}

/** An entry that no line is matched to; kept by triggers. */
@Entity('bank_open_entry')
export class BankOpenEntry {
  @PrimaryColumn('bigint') entryId!: number
  @ManyToOne(() => BankEntry) entry?: Relation<BankEntry>
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') day!: Day
}

@Entity('bank_match_line')
export class BankMatchLine {
  @PrimaryColumn('bigint') lineId!: number
  @ManyToOne(() => BankLine) line?: Relation<BankLine>
  @Column('int') matchId!: number
  @ManyToOne(() => BankMatch) match?: Relation<BankMatch>
}

@Entity('bank_read')
export class BankRead {
  @PrimaryColumn('bigint') fileId!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
}

@Entity('bank_refused')
export class BankRefused {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @PrimaryColumn('char') pair!: string
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') at!: string
}

@Entity('bank_rule')
export class BankRule {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') words!: string
  @Column('varchar') way!: 'in' | 'out'
  @Column('bigint', { nullable: true }) amount!: number | null
  @Column('int') accountId!: number
  @ManyToOne(() => Account) account?: Relation<Account>
  @Column('varchar') memo!: string
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
}

@Entity('bank_settlement')
export class BankSettlement {
  @PrimaryColumn('bigint') entryId!: number
  @ManyToOne(() => BankEntry) entry?: Relation<BankEntry>
  @Column('varchar') settlement!: string
}

@Entity('bank_start')
export class BankStart {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') day!: Day
}

@Entity('bank_start_entry')
export class BankStartEntry {
  @PrimaryColumn('bigint') entryId!: number
  @ManyToOne(() => BankEntry) entry?: Relation<BankEntry>
}

@Entity('bank_statement')
export class BankStatement {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('bigint') fileId!: number
  @Column('varchar') fileName!: string
  @Column('varchar') format!: string
  @Column('varchar') fromDay!: Day
  @Column('varchar') toDay!: Day
  @Column('bigint', { nullable: true }) opening!: number | null
  @Column('bigint', { nullable: true }) closing!: number | null
  @Column('int') lineCount!: number
  @Column('int') freshCount!: number
  @Column('bigint') difference!: number
  @Column('varchar') accepted!: string
  @Column('int') readBy!: number
  @Column('varchar') readAt!: string
}

@Entity('month_request')
export class MonthRequest {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') kind!: 'close' | 'reopen'
  @Column('varchar') toDay!: Day
  @Column('bigint') bank!: number
  @Column('bigint') book!: number
  @Column('varchar') reason!: string
  @Column('int') askedBy!: number
  @Column('varchar') askedAt!: string
  @Column('varchar') state!: 'asked' | 'done' | 'refused'
  @Column('int', { nullable: true }) decidedBy!: number | null
}

@Entity('reconciliation')
export class Reconciliation {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('varchar') toDay!: Day
  @Column('longtext') figures!: string
  @Column('int') closedBy!: number
  @Column('varchar') closedAt!: string
  @Column('bigint') fileId!: number
  @Column('int', { nullable: true }) approvedBy!: number | null
}

@Entity('reconciliation_reopened')
export class ReconciliationReopened {
  @PrimaryColumn('int') reconciliationId!: number
  @ManyToOne(() => Reconciliation) reconciliation?: Relation<Reconciliation>
  @Column('int') askedBy!: number
  @Column('int') agreedBy!: number
  @Column('varchar') reason!: string
  @Column('varchar') at!: string
}

export const bankEntities = [
  BankClosed,
  BankCsvMatch,
  BankLine,
  BankLineName,
  BankMatch,
  BankMatchEntry,
  BankMatchLine,
  BankOpenEntry,
  BankRead,
  BankRefused,
  BankRule,
  BankSettlement,
  BankStart,
  BankStartEntry,
  BankStatement,
  MonthRequest,
  Reconciliation,
  ReconciliationReopened,
]

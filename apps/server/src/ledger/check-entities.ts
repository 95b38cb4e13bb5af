import type { Day } from '@heron/core/calendar'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { BankAccount, Journal, PaymentOut } from './entities'
import { UserAccount } from '../platform/shared-entities'
import type { Contact } from '../people'

@Entity('check_layout')
export class CheckLayout {
  @PrimaryColumn('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('longtext') layout!: string
  @Column('boolean') numbers!: boolean
}

@Entity('check_out')
export class CheckOut {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne(() => PaymentOut) payment?: Relation<PaymentOut>
  @Column('varchar') how!: 'printed' | 'by hand'
  @Column('int') userId!: number
  @Column('varchar') at!: string
}

@Entity('firm_check_out')
export class FirmCheckOut {
  @PrimaryColumn('int') firmPaymentId!: number
  @ManyToOne(() => FirmPayment) firmPayment?: Relation<FirmPayment>
  @Column('varchar') how!: 'printed' | 'by hand'
  @Column('int') userId!: number
  @Column('varchar') at!: string
}

@Entity('firm_payment')
export class FirmPayment {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('int', { nullable: true }) payeeId!: number | null
  @ManyToOne('Contact') payee?: Relation<Contact>
  @Column('varchar') method!: 'check' | 'transfer'
  @Column('int', { nullable: true }) checkNo!: number | null
  @Column('varchar') day!: Day
  @Column('varchar') payeeName!: string
  @Column('varchar') payeeAddress!: string
  @Column('bigint') amount!: number
  @Column('varchar') memo!: string
  @Column('varchar') state!: 'draft' | 'posted' | 'void'
  @Column('bigint', { nullable: true }) journalId!: number | null
  @ManyToOne(() => Journal) journal?: Relation<Journal>
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) writtenOn!: Day | null
}

@Entity('print_job')
export class PrintJob {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne(() => BankAccount) bankAccount?: Relation<BankAccount>
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) closedAt!: string | null
}

@Entity('print_job_check')
export class PrintJobCheck {
  @PrimaryColumn('int') jobId!: number
  @ManyToOne(() => PrintJob) job?: Relation<PrintJob>
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne(() => PaymentOut) payment?: Relation<PaymentOut>
  @Column('varchar', { nullable: true }) outcome!: 'printed' | 'spoiled' | 'again' | null
}

@Entity('print_job_firm_check')
export class PrintJobFirmCheck {
  @PrimaryColumn('int') jobId!: number
  @ManyToOne(() => PrintJob) job?: Relation<PrintJob>
  @PrimaryColumn('int') firmPaymentId!: number
  @ManyToOne(() => FirmPayment) firmPayment?: Relation<FirmPayment>
  @Column('varchar', { nullable: true }) outcome!: 'printed' | 'spoiled' | 'again' | null
}

@Entity('unclaimed')
export class Unclaimed {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne(() => PaymentOut) payment?: Relation<PaymentOut>
  @Column('varchar', { nullable: true }) lastContact!: Day | null
  @Column('varchar') note!: string
  @Column('varchar', { nullable: true }) settledOn!: Day | null
  @Column('varchar') settled!: string
}

export const checkEntities = [CheckLayout, CheckOut, FirmCheckOut, FirmPayment, PrintJob, PrintJobCheck, PrintJobFirmCheck, Unclaimed]

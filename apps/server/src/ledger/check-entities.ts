import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('check_layout')
export class CheckLayout {
  @PrimaryColumn('int') bankAccountId!: number
  @Column('longtext') layout!: string
  @Column('boolean') numbers!: boolean
}

@Entity('check_out')
export class CheckOut {
  @PrimaryColumn('int') paymentId!: number
  @Column('varchar') how!: 'printed' | 'by hand'
  @Column('int') userId!: number
  @Column('varchar') at!: string
}

@Entity('firm_check_out')
export class FirmCheckOut {
  @PrimaryColumn('int') firmPaymentId!: number
  @Column('varchar') how!: 'printed' | 'by hand'
  @Column('int') userId!: number
  @Column('varchar') at!: string
}

@Entity('firm_payment')
export class FirmPayment {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @Column('int', { nullable: true }) payeeId!: number | null
  @Column('varchar') method!: 'check' | 'transfer'
  @Column('int', { nullable: true }) checkNo!: number | null
  @Column('varchar') day!: Day
  @Column('varchar') payeeName!: string
  @Column('varchar') payeeAddress!: string
  @Column('bigint') amount!: number
  @Column('varchar') memo!: string
  @Column('varchar') state!: 'draft' | 'posted' | 'void'
  @Column('bigint', { nullable: true }) journalId!: number | null
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) writtenOn!: Day | null
}

@Entity('print_job')
export class PrintJob {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @Column('int') userId!: number
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) closedAt!: string | null
}

@Entity('print_job_check')
export class PrintJobCheck {
  @PrimaryColumn('int') jobId!: number
  @PrimaryColumn('int') paymentId!: number
  @Column('varchar', { nullable: true }) outcome!: 'printed' | 'spoiled' | 'again' | null
}

@Entity('print_job_firm_check')
export class PrintJobFirmCheck {
  @PrimaryColumn('int') jobId!: number
  @PrimaryColumn('int') firmPaymentId!: number
  @Column('varchar', { nullable: true }) outcome!: 'printed' | 'spoiled' | 'again' | null
}

@Entity('unclaimed')
export class Unclaimed {
  @PrimaryColumn('int') paymentId!: number
  @Column('varchar', { nullable: true }) lastContact!: Day | null
  @Column('varchar') note!: string
  @Column('varchar', { nullable: true }) settledOn!: Day | null
  @Column('varchar') settled!: string
}

export const checkEntities = [CheckLayout, CheckOut, FirmCheckOut, FirmPayment, PrintJob, PrintJobCheck, PrintJobFirmCheck, Unclaimed]

import type { Day } from '@heron/core/calendar'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import type { Contact } from '../people'
import type { Account, FirmPayment, Journal } from '../ledger'

@Entity('vendor_bill')
export class VendorBill {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') vendorId!: number
  @ManyToOne('Contact') vendor?: Relation<Contact>
  @Column('varchar') number!: string
  @Column('varchar') day!: Day
  @Column('varchar') dueOn!: Day
  @Column('varchar', { nullable: true }) discountOn!: Day | null
  @Column('bigint') discount!: number
  @Column('varchar') memo!: string
  @Column('bigint') total!: number
  @Column('bigint') settled!: number
  @Column('varchar') state!: 'posted' | 'void'
  @Column('varchar', { nullable: true }) voidOn!: Day | null
  @Column('bigint', { nullable: true }) journalId!: number | null
  @ManyToOne('Journal') journal?: Relation<Journal>
  @Column('int', { nullable: true }) recurringId!: number | null
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column({ type: 'bigint', nullable: true, insert: false, update: false }) openAmount!: number | null
  @Column({ type: 'varchar', nullable: true, insert: false, update: false }) numberKey!: string | null
}

@Entity('vendor_bill_line')
export class VendorBillLine {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') billId!: number
  @ManyToOne(() => VendorBill) bill?: Relation<VendorBill>
  @Column('int', { nullable: true }) accountId!: number | null
  @ManyToOne('Account') account?: Relation<Account>
  @Column('int', { nullable: true }) costId!: number | null
  @Column('varchar') text!: string
  @Column('bigint') amount!: number
}

@Entity('vendor_line_part')
export class VendorLinePart {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne('FirmPayment') payment?: Relation<FirmPayment>
  @PrimaryColumn('int') lineId!: number
  @ManyToOne(() => VendorBillLine) line?: Relation<VendorBillLine>
  @Column('bigint') amount!: number
}

@Entity('vendor_part')
export class VendorPart {
  @PrimaryColumn('int') paymentId!: number
  @ManyToOne('FirmPayment') payment?: Relation<FirmPayment>
  @PrimaryColumn('int') billId!: number
  @ManyToOne(() => VendorBill) bill?: Relation<VendorBill>
  @Column('bigint') amount!: number
  @Column('bigint') discount!: number
}

@Entity('vendor_recurring')
export class VendorRecurring {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') vendorId!: number
  @ManyToOne('Contact') vendor?: Relation<Contact>
  @Column('varchar') memo!: string
  @Column('tinyint') dayOfMonth!: number
  @Column('tinyint') everyMonths!: number
  @Column('smallint') dueDays!: number
  @Column('longtext') lineList!: string
  @Column('bigint') amount!: number
  @Column('varchar', { nullable: true }) nextOn!: Day | null
  @Column('varchar', { nullable: true }) until!: Day | null
  @Column('varchar') fault!: string
  @Column('int') madeBy!: number
}

export const vendorEntities = [VendorBill, VendorBillLine, VendorLinePart, VendorPart, VendorRecurring]

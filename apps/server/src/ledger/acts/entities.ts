import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('bank_did')
export class BankDid {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') what!: 'returned' | 'charge'
  @Column('int') bankAccountId!: number
  @Column('int') ledgerId!: number
  @Column('int', { nullable: true }) receiptId!: number | null
  @Column('bigint') journalId!: number
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
  @Column('bigint') cover!: number
  @Column('int', { nullable: true }) operatingId!: number | null
  @Column('varchar') text!: string
  @Column('int') userId!: number
}

@Entity('cover_landed')
export class CoverLanded {
  @PrimaryColumn('int') didId!: number
  @Column('varchar') day!: Day
  @Column('int') userId!: number
}

@Entity('cover_repaid')
export class CoverRepaid {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') didId!: number
  @Column('bigint') amount!: number
  @Column('bigint') journalId!: number
}

@Entity('receipt_owner')
export class ReceiptOwner {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') receiptId!: number
  @Column('int') ledgerId!: number
  @Column('bigint') amount!: number
  @Column('varchar') reason!: string
  @Column('bigint') journalId!: number
  @Column('int') userId!: number
}

@Entity('trust_correction')
export class TrustCorrection {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') entryId!: number
  @Column('int') clientId!: number
  @Column('int', { nullable: true }) matterId!: number | null
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
}

@Entity('trust_interest')
export class TrustInterest {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') ledgerId!: number
  @Column('bigint') journalId!: number
  @Column('varchar') day!: Day
  @Column('bigint') amount!: number
}

export const actEntities = [BankDid, CoverLanded, CoverRepaid, ReceiptOwner, TrustCorrection, TrustInterest]

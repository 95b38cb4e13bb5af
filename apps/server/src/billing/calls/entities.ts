import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('account_call')
export class AccountCall {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @Column('int') clientId!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('bigint') amount!: number
  @Column('varchar', { nullable: true }) dueOn!: Day | null
  @Column('varchar') message!: string
  @Column('bigint', { nullable: true }) minimum!: number | null
  @Column('smallint', { nullable: true }) everyDays!: number | null
  @Column('varchar', { nullable: true }) sentOn!: Day | null
  @Column('varchar', { nullable: true }) seenOn!: Day | null
  @Column('varchar', { nullable: true }) remindedOn!: Day | null
  @Column('varchar', { nullable: true }) withdrawnOn!: Day | null
  @Column('int', { nullable: true }) afterId!: number | null
  @Column('int') version!: number
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
}

@Entity('account_call_receipt')
export class AccountCallReceipt {
  @PrimaryColumn('int') receiptId!: number
  @Column('int') callId!: number
}

export const callEntities = [AccountCall, AccountCallReceipt]

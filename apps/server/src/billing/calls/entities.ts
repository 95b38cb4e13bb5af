import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../../platform/shared-entities'
import type { BankAccount, DepositReceipt } from '../../ledger'
import type { Contact } from '../../people'

@Entity('account_call')
export class AccountCall {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') bankAccountId!: number
  @ManyToOne('BankAccount') bankAccount?: Relation<BankAccount>
  @Column('int') clientId!: number
  @ManyToOne('Contact') client?: Relation<Contact>
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
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
  @ManyToOne(() => AccountCall) after?: Relation<AccountCall>
  @Column('int') version!: number
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
}

@Entity('account_call_receipt')
export class AccountCallReceipt {
  @PrimaryColumn('int') receiptId!: number
  @ManyToOne('DepositReceipt') receipt?: Relation<DepositReceipt>
  @Column('int') callId!: number
  @ManyToOne(() => AccountCall) call?: Relation<AccountCall>
}

export const callEntities = [AccountCall, AccountCallReceipt]

import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { AccountCall } from './calls/entities'
import { Bill } from './entities'
import { UserAccount } from '../platform/shared-entities'

@Entity('card_charge')
export class CardCharge {
  @PrimaryColumn('char') id!: string
  @Column('int') linkId!: number
  @ManyToOne(() => PayLink) link?: Relation<PayLink>
  @Column('int', { nullable: true }) billId!: number | null
  @ManyToOne(() => Bill) bill?: Relation<Bill>
  @Column('bigint') amount!: number
  @Column('varchar') state!: 'begun' | 'refused' | 'paid' | 'disputed'
  @Column('int', { nullable: true }) paymentId!: number | null
  @Column('bigint', { nullable: true }) fee!: number | null
  @Column('bigint', { nullable: true }) feeJournalId!: number | null
  @Column('varchar') fault!: string
  @Column('varchar') begunAt!: string
  @Column('varchar') method!: 'card' | 'bank'
  @Column('int', { nullable: true }) callId!: number | null
  @ManyToOne(() => AccountCall) call?: Relation<AccountCall>
  @Column('int', { nullable: true }) receiptId!: number | null
  @Column('varchar', { nullable: true }) settlement!: string | null
}

@Entity('card_event')
export class CardEvent {
  @PrimaryColumn('varchar') id!: string
  @Column('char') chargeId!: string
  @ManyToOne(() => CardCharge) charge?: Relation<CardCharge>
  @Column('varchar') kind!: 'paid' | 'refused' | 'disputed' | 'dispute won' | 'settled'
  @Column('varchar') at!: string
}

@Entity('pay_link')
export class PayLink {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) billId!: number | null
  @ManyToOne(() => Bill) bill?: Relation<Bill>
  @Column('char') tokenHash!: string
  @Column('varchar') origin!: string
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) endedAt!: string | null
  @Column('int', { nullable: true }) callId!: number | null
  @ManyToOne(() => AccountCall) call?: Relation<AccountCall>
}

export const cardEntities = [CardCharge, CardEvent, PayLink]

import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('card_charge')
export class CardCharge {
  @PrimaryColumn('char') id!: string
  @Column('int') linkId!: number
  @Column('int', { nullable: true }) billId!: number | null
  @Column('bigint') amount!: number
  @Column('varchar') state!: 'begun' | 'refused' | 'paid' | 'disputed'
  @Column('int', { nullable: true }) paymentId!: number | null
  @Column('bigint', { nullable: true }) fee!: number | null
  @Column('bigint', { nullable: true }) feeJournalId!: number | null
  @Column('varchar') fault!: string
  @Column('varchar') begunAt!: string
  @Column('varchar') method!: 'card' | 'bank'
  @Column('int', { nullable: true }) callId!: number | null
  @Column('int', { nullable: true }) receiptId!: number | null
  @Column('varchar', { nullable: true }) settlement!: string | null
}

@Entity('card_event')
export class CardEvent {
  @PrimaryColumn('varchar') id!: string
  @Column('char') chargeId!: string
  @Column('varchar') kind!: 'paid' | 'refused' | 'disputed' | 'dispute won' | 'settled'
  @Column('varchar') at!: string
}

@Entity('pay_link')
export class PayLink {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) billId!: number | null
  @Column('char') tokenHash!: string
  @Column('varchar') origin!: string
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) endedAt!: string | null
  @Column('int', { nullable: true }) callId!: number | null
}

export const cardEntities = [CardCharge, CardEvent, PayLink]

import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('bill_run')
export class BillRun {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') what!: 'make' | 'issue'
  @Column('varchar') day!: string
  @Column('boolean', { default: false }) send!: boolean
  @Column('int') userId!: number
  @Column('varchar') beganAt!: string
  @Column('varchar', { nullable: true }) endedAt!: string | null
}

@Entity('bill_run_item')
export class BillRunItem {
  @PrimaryColumn('int') runId!: number
  @PrimaryColumn('int') ordinal!: number
  @Column('int') matterId!: number
  @Column('int', { nullable: true }) preBillId!: number | null
  @Column('varchar', { default: 'waiting' }) state!: 'waiting' | 'done' | 'refused'
  @Column('varchar', { default: '' }) words!: string
}

@Entity('bill_sent')
export class BillSent {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') billId!: number
  @Column('varchar') kind!: string
  @Column('varchar') at!: string
  @Column('varchar') name!: string
  @Column('varchar') address!: string
  @Column('varchar') mailKey!: string
  @Column('int') userId!: number
}

@Entity('bill_letter')
export class BillLetter {
  @PrimaryColumn('varchar') kind!: string
  @PrimaryColumn('varchar') language!: 'en' | 'es'
  @Column('varchar') subject!: string
  @Column('text') body!: string
}

export const runEntities = [BillRun, BillRunItem, BillSent, BillLetter]

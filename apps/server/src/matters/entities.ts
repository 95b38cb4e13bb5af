import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, PracticeArea, UserAccount } from '../platform/shared-entities'
import type { Contact } from '../people'

@Entity('stage')
export class Stage {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') areaId!: number
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('varchar') name!: string
  @Column('smallint') ordinal!: number
  @Column('boolean') retired!: boolean
}

@Entity('matter_stage')
export class MatterStage {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int') stageId!: number
  @ManyToOne(() => Stage) stage?: Relation<Stage>
  @Column('varchar') fromDay!: Day
  @Column('int') setBy!: number
}

@Entity('matter_party')
export class MatterParty {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int') contactId!: number
  @ManyToOne('Contact') contact?: Relation<Contact>
  @Column('varchar') role!: string
  @Column('varchar') side!: 'ours' | 'adverse' | 'other'
  @Column('varchar') counsel!: string
  @Column('int', { nullable: true }) counselId!: number | null
  @Column('varchar', { nullable: true }) servedOn!: Day | null
  @Column('varchar') addedAt!: string
}

@Entity('matter_team')
export class MatterTeam {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') role!: 'lead' | 'lawyer' | 'paralegal' | 'assistant' | 'outside'
  @Column('boolean') keeps!: boolean
  @Column('bigint', { nullable: true }) rate!: number | null
  @Column('varchar') since!: string
  @Column('tinyint') atFile!: number
  @Column('tinyint') atDocket!: number
  @Column('tinyint') atPapers!: number
  @Column('tinyint') atMoney!: number
  @Column('tinyint') atTrust!: number
}

@Entity('fee_portion')
export class FeePortion {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('smallint') ordinal!: number
  @Column('varchar') label!: string
  @Column('bigint') amount!: number
  @Column('varchar') due!: 'opening' | 'reached'
  @Column('int', { nullable: true }) stageId!: number | null
  @Column('varchar', { nullable: true }) earnedOn!: Day | null
  @Column('int', { nullable: true }) billId!: number | null
  @Column({ type: 'bigint', nullable: true, insert: false, update: false }) openAmount!: number | null
  @Column('boolean') added!: boolean
}

@Entity('client_rate')
export class ClientRate {
  @PrimaryColumn('int') clientId!: number
  @ManyToOne('Contact') client?: Relation<Contact>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('bigint') rate!: number
}

@Entity('contingent_fee')
export class ContingentFee {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') feeOf!: 'gross' | 'net of costs'
}

@Entity('contingent_stage')
export class ContingentStage {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('varchar') label!: string
  @Column('int') numerator!: number
  @Column('int') denominator!: number
}

@Entity('matter_arrangement')
export class MatterArrangement {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('varchar') fromDay!: Day
  @Column('varchar') billing!: 'hourly' | 'flat' | 'mixed' | 'contingency' | 'no charge' | 'grant'
  @Column('int') setBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'set_by' }) setByUser?: Relation<UserAccount>
}

@Entity('matter_client')
export class MatterClient {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('int') contactId!: number
  @ManyToOne('Contact') contact?: Relation<Contact>
}

@Entity('matter_follow')
export class MatterFollow {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('matter_payer')
export class MatterPayer {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('int') contactId!: number
  @ManyToOne('Contact') contact?: Relation<Contact>
  @Column('bigint', { nullable: true }) fixed!: number | null
  @Column('smallint', { nullable: true }) basisPoints!: number | null
}

@Entity('matter_retainer')
export class MatterRetainer {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('bigint') floorAmount!: number
  @Column('bigint') fillTo!: number
}

@Entity('matter_screen')
export class MatterScreen {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') reason!: string
  @Column('varchar', { nullable: true }) since!: Day | null
}

@Entity('matter_tag')
export class MatterTag {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('varchar') tag!: string
}

@Entity('matter_word')
export class MatterWord {
  @PrimaryColumn('varchar') word!: string
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
}

export const matterEntities = [
  Stage,
  MatterStage,
  MatterParty,
  MatterTeam,
  FeePortion,
  ClientRate,
  ContingentFee,
  ContingentStage,
  MatterArrangement,
  MatterClient,
  MatterFollow,
  MatterPayer,
  MatterRetainer,
  MatterScreen,
  MatterTag,
  MatterWord,
]

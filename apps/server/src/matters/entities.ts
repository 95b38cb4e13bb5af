import type { Day } from '@heron/core/calendar'
import type { Arrangement } from '@heron/core/billing'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('practice_area')
export class PracticeArea {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar', { nullable: true }) ruleSetKey!: string | null
  @Column('tinyint') staffFile!: number
  @Column('tinyint') staffDocket!: number
  @Column('tinyint') staffPapers!: number
  @Column('tinyint') staffMoney!: number
  @Column('tinyint') staffTrust!: number
  @Column('boolean') retired!: boolean
}

@Entity('stage')
export class Stage {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') areaId!: number
  @Column('varchar') name!: string
  @Column('smallint') ordinal!: number
  @Column('boolean') retired!: boolean
}

@Entity('matter_stage')
export class MatterStage {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('int') stageId!: number
  @Column('varchar') fromDay!: Day
  @Column('int') setBy!: number
}

@Entity('matter')
export class Matter {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') number!: string
  @Column('varchar') name!: string
  @Column('varchar') shortName!: string
  @Column('varchar') kind!: 'client' | 'firm' | 'practice'
  @Column('int') clientId!: number
  @Column('int', { nullable: true }) areaId!: number | null
  @Column('int', { nullable: true }) stageId!: number | null
  @Column('varchar') openedOn!: Day
  @Column('varchar', { nullable: true }) closedOn!: Day | null
  @Column('text') description!: string
  @Column('varchar') court!: string
  @Column('varchar') caseNumber!: string
  @Column('varchar') ourSide!: string
  @Column('varchar', { nullable: true }) ruleSetKey!: string | null
  @Column('varchar') facts!: string
  @Column('int') leadId!: number
  @Column('varchar') billing!: Arrangement
  @Column('int', { nullable: true }) billToId!: number | null
  @Column('varchar') access!: 'firm' | 'team'
  @Column('tinyint') staffFile!: number
  @Column('tinyint') staffDocket!: number
  @Column('tinyint') staffPapers!: number
  @Column('tinyint') staffMoney!: number
  @Column('tinyint') staffTrust!: number
  @Column('varchar') secondNumber!: string
  @Column('int', { nullable: true }) judgeId!: number | null
  @Column('int', { nullable: true }) originatingId!: number | null
  @Column('int', { nullable: true }) enquiryId!: number | null
  @Column('varchar') closingNote!: string
  @Column('int') version!: number
  @Column('bigint', { nullable: true }) conflictCheckId!: number | null
  @Column('varchar') activeOn!: Day
  @Column('varchar') clientName!: string
}

@Entity('matter_party')
export class MatterParty {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('int') contactId!: number
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
  @PrimaryColumn('int') userId!: number
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
  @PrimaryColumn('int') userId!: number
  @Column('bigint') rate!: number
}

@Entity('contingent_fee')
export class ContingentFee {
  @PrimaryColumn('int') matterId!: number
  @Column('varchar') feeOf!: 'gross' | 'net of costs'
}

@Entity('contingent_stage')
export class ContingentStage {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('varchar') label!: string
  @Column('int') numerator!: number
  @Column('int') denominator!: number
}

@Entity('matter_arrangement')
export class MatterArrangement {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('varchar') fromDay!: Day
  @Column('varchar') billing!: 'hourly' | 'flat' | 'mixed' | 'contingency' | 'no charge' | 'grant'
  @Column('int') setBy!: number
}

@Entity('matter_client')
export class MatterClient {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('int') contactId!: number
}

@Entity('matter_follow')
export class MatterFollow {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('int') userId!: number
}

@Entity('matter_payer')
export class MatterPayer {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('int') contactId!: number
  @Column('bigint', { nullable: true }) fixed!: number | null
  @Column('smallint', { nullable: true }) basisPoints!: number | null
}

@Entity('matter_retainer')
export class MatterRetainer {
  @PrimaryColumn('int') matterId!: number
  @Column('bigint') floorAmount!: number
  @Column('bigint') fillTo!: number
}

@Entity('matter_screen')
export class MatterScreen {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('int') userId!: number
  @Column('varchar') reason!: string
  @Column('varchar', { nullable: true }) since!: Day | null
}

@Entity('matter_tag')
export class MatterTag {
  @PrimaryColumn('int') matterId!: number
  @PrimaryColumn('varchar') tag!: string
}

@Entity('matter_word')
export class MatterWord {
  @PrimaryColumn('varchar') word!: string
  @PrimaryColumn('int') matterId!: number
}

export const matterEntities = [
  PracticeArea,
  Stage,
  MatterStage,
  Matter,
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

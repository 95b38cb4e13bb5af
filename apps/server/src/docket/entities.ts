import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm'

@Entity('trigger_event')
export class TriggerEvent {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('varchar') ruleSetKey!: string
  @Column('varchar') ruleSetEdition!: string
  @Column('varchar') kind!: string
  @Column('varchar') label!: string
  @Column('varchar') day!: Day
  @Column('varchar', { nullable: true }) service!: string | null
  @Column('boolean') tentative!: boolean
  @Column('int', { nullable: true }) answersId!: number | null
  @Column('int', { nullable: true }) partyId!: number | null
  @Column('int', { nullable: true }) paperId!: number | null
  @Column('varchar', { nullable: true }) removedAt!: string | null
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
}

@Entity('docket_entry')
export class DocketEntry {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('int', { nullable: true }) triggerId!: number | null
  @Column('varchar', { nullable: true }) deadlineKey!: string | null
  @Column('varchar') title!: string
  @Column('text') text!: string
  @Column('varchar') authority!: string
  @Column('varchar', { nullable: true }) link!: string | null
  @Column('varchar') weight!: 'strict' | 'rule' | 'court order' | 'firm practice' | 'appointment'
  @Column('varchar') day!: Day
  @Column('varchar', { nullable: true }) beforeRoll!: string | null
  @Column('varchar', { nullable: true }) atTime!: string | null
  @Column('smallint', { nullable: true }) lengthMinutes!: number | null
  @Column('varchar') place!: string
  @Column('varchar') dayEnds!: string
  @Column('varchar') howCounted!: string
  @Column('varchar', { nullable: true }) metOn!: Day | null
  @Column('varchar') countedFrom!: string
  @Column('longtext') trace!: string
  @Column('boolean') leftOut!: boolean
  @Column('varchar') mark!: 'open' | 'in hand' | 'met' | 'waived' | 'vacated'
  @Column('boolean') urgent!: boolean
  @Column('boolean') offCalendar!: boolean
  @Column('varchar') setBy!: 'rule' | 'hand' | 'court'
  @Column('boolean') provisional!: boolean
  @Column('boolean') tentative!: boolean
  @Column('varchar') meetingLink!: string
  @Column('varchar', { nullable: true }) placedOn!: Day | null
  @Column('varchar', { nullable: true }) ruleDay!: string | null
  @Column('boolean') chainFollows!: boolean
  @Column('varchar') reason!: string
  @Column('int', { nullable: true }) paperId!: number | null
  @Column('varchar', { nullable: true }) removedAt!: string | null
  @Column('int', { nullable: true }) responsibleId!: number | null
  @Column('int', { nullable: true }) seriesId!: number | null
  @Column('varchar', { nullable: true }) recursOn!: Day | null
  @Column('varchar') createdAt!: string
}

@Entity('docket_history')
export class DocketHistory {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') entryId!: number
  @Column('varchar') at!: string
  @Column('int') userId!: number
  @Column('varchar') what!: string
  @Column('varchar') was!: string
  @Column('varchar') became!: string
  @Column('varchar') why!: string
}

export const docketEntities = [TriggerEvent, DocketEntry, DocketHistory]

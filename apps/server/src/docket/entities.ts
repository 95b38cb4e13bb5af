import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../platform/shared-entities'

@Entity('trigger_event')
export class TriggerEvent {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
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
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int', { nullable: true }) triggerId!: number | null
  @ManyToOne(() => TriggerEvent) trigger?: Relation<TriggerEvent>
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
  @ManyToOne(() => UserAccount) responsible?: Relation<UserAccount>
  @Column('int', { nullable: true }) seriesId!: number | null
  @Column('varchar', { nullable: true }) recursOn!: Day | null
  @Column('varchar') createdAt!: string
  @Column('int') sequence!: number
  @Column('varchar', { nullable: true }) changedAt!: string | null
}

@Entity('docket_history')
export class DocketHistory {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @Column('varchar') at!: string
  @Column('int') userId!: number
  @Column('varchar') what!: string
  @Column('varchar') was!: string
  @Column('varchar') became!: string
  @Column('varchar') why!: string
}

@Entity('court_closure')
export class CourtClosure {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar', { nullable: true }) ruleSetKey!: string | null
  @Column('varchar') day!: Day
  @Column('varchar') name!: string
  @Column('int') createdBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'created_by' }) createdByUser?: Relation<UserAccount>
  @Column('varchar') createdAt!: string
  @Column('boolean') filingOnly!: boolean
}

@Entity('docket_change')
export class DocketChange {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') at!: string
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') text!: string
  @Column('longtext') putBack!: string
  @Column('longtext') leftAs!: string
  @Column('varchar', { nullable: true }) undoneAt!: string | null
}

@Entity('docket_reminder')
export class DocketReminder {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') day!: Day
  @Column('smallint') lead!: number
  @Column('varchar') at!: string
  @Column('boolean') seen!: boolean
}

@Entity('entry_reminder_choice')
export class EntryReminderChoice {
  @PrimaryColumn('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') leads!: string
}

@Entity('reminder_choice')
export class ReminderChoice {
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) leads!: string | null
  @Column('tinyint', { nullable: true }) digestOn!: number | null
}

@Entity('report_schedule')
export class ReportSchedule {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') ownerId!: number
  @ManyToOne(() => UserAccount) owner?: Relation<UserAccount>
  @Column('longtext') report!: string
  @Column('varchar') words!: string
  @Column('tinyint') weekday!: number
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) lastOn!: Day | null
  @Column('varchar', { nullable: true }) endedAt!: string | null
}

@Entity('report_schedule_to')
export class ReportScheduleTo {
  @PrimaryColumn('int') scheduleId!: number
  @ManyToOne(() => ReportSchedule) schedule?: Relation<ReportSchedule>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('rule_set_edition')
export class RuleSetEdition {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') ruleSetKey!: string
  @Column('varchar') part!: 'set' | 'practice'
  @Column('int') no!: number
  @Column('longtext', { nullable: true }) body!: string | null
  @Column('varchar') note!: string
  @Column('int') createdBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'created_by' }) createdByUser?: Relation<UserAccount>
  @Column('varchar') createdAt!: string
}

export const docketEntities = [
  TriggerEvent,
  DocketEntry,
  DocketHistory,
  CourtClosure,
  DocketChange,
  DocketReminder,
  EntryReminderChoice,
  ReminderChoice,
  ReportSchedule,
  ReportScheduleTo,
  RuleSetEdition,
]

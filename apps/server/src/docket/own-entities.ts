import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, PracticeArea, UserAccount } from '../platform/shared-entities'
import { DocketEntry } from './entities'

@Entity('calendar_feed')
export class CalendarFeed {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('char') secretHash!: string
  @Column('int') ownerId!: number
  @ManyToOne(() => UserAccount) owner?: Relation<UserAccount>
  @Column('varchar') scope!: 'person' | 'matter' | 'area' | 'firm'
  @Column('int', { nullable: true }) userId!: number | null
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) withdrawnAt!: string | null
}

@Entity('docket_attendee')
export class DocketAttendee {
  @PrimaryColumn('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('docket_entry_paper')
export class DocketEntryPaper {
  @PrimaryColumn('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @PrimaryColumn('int') paperId!: number
}

@Entity('docket_entry_tag')
export class DocketEntryTag {
  @PrimaryColumn('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @PrimaryColumn('varchar') tag!: string
}

@Entity('docket_sent')
export class DocketSent {
  @PrimaryColumn('int') entryId!: number
  @ManyToOne(() => DocketEntry) entry?: Relation<DocketEntry>
  @PrimaryColumn('varchar') email!: string
  @Column('varchar') name!: string
  @Column('varchar') zone!: string
  @Column('int') sequence!: number
  @Column('int') asOf!: number
  @Column('varchar') sentAt!: string
  @Column('varchar', { nullable: true }) withdrawnAt!: string | null
}

@Entity('docket_series')
export class DocketSeries {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') rule!: string
  @Column('varchar') firstDay!: Day
  @Column('longtext') body!: string
  @Column('varchar') madeTo!: Day
  @Column('varchar', { nullable: true }) endedOn!: Day | null
  @Column('int') createdBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'created_by' }) createdByUser?: Relation<UserAccount>
}

export const ownEntities = [CalendarFeed, DocketAttendee, DocketEntryPaper, DocketEntryTag, DocketSent, DocketSeries]

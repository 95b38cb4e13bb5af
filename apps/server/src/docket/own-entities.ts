import type { Day } from '@heron/core/calendar'
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

@Entity('calendar_feed')
export class CalendarFeed {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('char') secretHash!: string
  @Column('int') ownerId!: number
  @Column('varchar') scope!: 'person' | 'matter' | 'area' | 'firm'
  @Column('int', { nullable: true }) userId!: number | null
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('int', { nullable: true }) areaId!: number | null
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) withdrawnAt!: string | null
}

@Entity('docket_attendee')
export class DocketAttendee {
  @PrimaryColumn('int') entryId!: number
  @PrimaryColumn('int') userId!: number
}

@Entity('docket_entry_paper')
export class DocketEntryPaper {
  @PrimaryColumn('int') entryId!: number
  @PrimaryColumn('int') paperId!: number
}

@Entity('docket_entry_tag')
export class DocketEntryTag {
  @PrimaryColumn('int') entryId!: number
  @PrimaryColumn('varchar') tag!: string
}

@Entity('docket_sent')
export class DocketSent {
  @PrimaryColumn('int') entryId!: number
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
  @Column('varchar') rule!: string
  @Column('varchar') firstDay!: Day
  @Column('longtext') body!: string
  @Column('varchar') madeTo!: Day
  @Column('varchar', { nullable: true }) endedOn!: Day | null
  @Column('int') createdBy!: number
}

export const ownEntities = [CalendarFeed, DocketAttendee, DocketEntryPaper, DocketEntryTag, DocketSent, DocketSeries]

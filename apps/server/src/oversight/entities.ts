import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, UserAccount } from '../platform/shared-entities'

@Entity('decision_aside')
export class DecisionAside {
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @PrimaryColumn('varchar') kind!: string
  @PrimaryColumn('varchar') item!: string
  @Column('varchar') until!: Day
}

@Entity('matter_figure')
export class MatterFigure {
  @PrimaryColumn('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('bigint') unbilledTime!: number
  @Column('bigint') unbilledOther!: number
  @Column({ type: 'bigint', nullable: true, insert: false, update: false }) unbilled!: number | null
  @Column('bigint') held!: number
  @Column('bigint') owed!: number
}

@Entity('oversight_look')
export class OversightLook {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') at!: string
  @Column('varchar') day!: Day
  @Column('varchar') toldAt!: string
}

@Entity('oversight_schedule')
export class OversightSchedule {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') what!: string
  @Column('varchar') asked!: string
  @Column('varchar') every!: 'week' | 'month'
  @Column('tinyint') onDay!: number
  @Column('varchar') format!: 'xlsx' | 'pdf' | 'csv'
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) sentOn!: Day | null
}

@Entity('oversight_schedule_to')
export class OversightScheduleTo {
  @PrimaryColumn('int') scheduleId!: number
  @ManyToOne(() => OversightSchedule) schedule?: Relation<OversightSchedule>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('timekeeper_goal')
export class TimekeeperGoal {
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @PrimaryColumn('varchar') fromDay!: Day
  @Column('varchar') basis!: 'billable' | 'collected'
  @Column('bigint', { nullable: true }) weekly!: number | null
  @Column('bigint', { nullable: true }) monthly!: number | null
  @Column('bigint', { nullable: true }) costRate!: number | null
}

@Entity('time_moved')
export class TimeMoved {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') at!: string
  @Column('int') userId!: number
  @Column('int') matterId!: number
  @Column('varchar') day!: Day
  @Column('int') minutes!: number
  @Column('bigint') worth!: number
}

export const oversightEntities = [
  DecisionAside,
  MatterFigure,
  OversightLook,
  OversightSchedule,
  OversightScheduleTo,
  TimekeeperGoal,
  TimeMoved,
]

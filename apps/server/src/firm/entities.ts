import type { Day } from '@heron/core/calendar'
import type { TeamRole } from '@heron/contract'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { PracticeArea, UserAccount } from '../platform/shared-entities'
import type { ProcedureDef } from '../tasks'

@Entity('user_rate')
export class UserRate {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') fromDay!: Day
  @Column('varchar', { nullable: true }) toDay!: string | null
  @Column('bigint') rate!: number
  @Column('boolean') usual!: boolean
}

@Entity('activity')
export class Activity {
  @PrimaryColumn('varchar') code!: string
  @Column('varchar') name!: string
  @Column('bigint', { nullable: true }) rate!: number | null
}

@Entity('absence')
export class Absence {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') kind!: 'leave' | 'departure'
  @Column('varchar') fromDay!: Day
  @Column('varchar', { nullable: true }) toDay!: Day | null
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) endedAt!: string | null
  @Column('longtext', { nullable: true }) gives!: string | null
  @Column('varchar', { nullable: true }) begunAt!: string | null
}

@Entity('area_procedure')
export class AreaProcedure {
  @PrimaryColumn('int') areaId!: number
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @PrimaryColumn('int') procedureId!: number
  @ManyToOne('ProcedureDef') procedure?: Relation<ProcedureDef>
}

@Entity('area_team')
export class AreaTeam {
  @PrimaryColumn('int') areaId!: number
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') role!: TeamRole
}

@Entity('backup')
export class Backup {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') wantedAt!: string
  @Column('int', { nullable: true }) userId!: number | null
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) endedAt!: string | null
  @Column('varchar') state!: 'wanted' | 'running' | 'done' | 'failed'
  @Column('varchar') name!: string
  @Column('varchar') place!: string
  @Column('bigint') size!: number
  @Column('int') tables!: number
  @Column('bigint') rowCount!: number
  @Column('int') files!: number
  @Column('varchar', { nullable: true }) triedAt!: string | null
  @Column('boolean') restored!: boolean
  @Column('varchar') words!: string
}

@Entity('contact_kind_listed')
export class ContactKindListed {
  @PrimaryColumn('varchar') kind!: string
  @Column('smallint') ordinal!: number
}

@Entity('firm_holiday')
export class FirmHoliday {
  @PrimaryColumn('varchar') day!: Day
  @Column('varchar') name!: string
}

@Entity('handed_over')
export class HandedOver {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') absenceId!: number
  @ManyToOne(() => Absence) absence?: Relation<Absence>
  @Column('varchar') what!: 'lead' | 'team' | 'date' | 'task' | 'paper' | 'review'
  @Column('int') subjectId!: number
  @Column('int') toId!: number
  @Column('longtext') was!: string
  @Column('varchar', { nullable: true }) givenBackAt!: string | null
}

@Entity('listed_fee')
export class ListedFee {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('longtext') portions!: string
  @Column('boolean') retired!: boolean
}

export const firmEntities = [
  UserRate,
  Activity,
  Absence,
  AreaProcedure,
  AreaTeam,
  Backup,
  ContactKindListed,
  FirmHoliday,
  HandedOver,
  ListedFee,
]

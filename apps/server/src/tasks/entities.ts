import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, PracticeArea, UserAccount } from '../platform/shared-entities'

@Entity('procedure_def')
export class ProcedureDef {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') description!: string
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('boolean') retired!: boolean
  @Column('smallint') version!: number
}

@Entity('procedure_version')
export class ProcedureVersion {
  @PrimaryColumn('int') procedureId!: number
  @ManyToOne(() => ProcedureDef) procedure?: Relation<ProcedureDef>
  @PrimaryColumn('smallint') version!: number
  @Column('longtext') steps!: string
  @Column('int', { nullable: true }) madeBy!: number | null
  @Column('varchar') madeAt!: string
}

@Entity('procedure_run')
export class ProcedureRun {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') procedureId!: number
  @ManyToOne(() => ProcedureDef) procedure?: Relation<ProcedureDef>
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') startedOn!: Day
  @Column('int') startedBy!: number
  @Column('smallint') steps!: number
  @Column('smallint') version!: number
  @Column('longtext') anchors!: string
  @Column('int', { nullable: true }) givenTo!: number | null
}

@Entity('task')
export class Task {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('int', { nullable: true }) runId!: number | null
  @ManyToOne(() => ProcedureRun) run?: Relation<ProcedureRun>
  @Column('smallint', { nullable: true }) step!: number | null
  @Column('varchar', { nullable: true }) stepKey!: string | null
  @Column('varchar') text!: string
  @Column('text') details!: string
  @Column('int') assigneeId!: number
  @ManyToOne(() => UserAccount) assignee?: Relation<UserAccount>
  @Column('int') assignedBy!: number
  @Column('varchar') priority!: 'high' | 'normal' | 'low'
  @Column('varchar', { nullable: true }) dueOn!: Day | null
  @Column('varchar', { nullable: true }) dueTime!: string | null
  @Column('boolean') dueByHand!: boolean
  @Column('varchar', { nullable: true }) remindOn!: Day | null
  @Column('varchar', { nullable: true }) remindedAt!: string | null
  @Column('smallint', { nullable: true }) estimateMinutes!: number | null
  @Column('boolean') onlyNamed!: boolean
  @Column('varchar', { nullable: true }) doneAt!: string | null
  @Column('int', { nullable: true }) doneBy!: number | null
  @Column('varchar') createdAt!: string
  @Column('int') version!: number
}

@Entity('task_comment')
export class TaskComment {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') taskId!: number
  @ManyToOne(() => Task) task?: Relation<Task>
  @Column('int') authorId!: number
  @ManyToOne(() => UserAccount) author?: Relation<UserAccount>
  @Column('varchar') text!: string
  @Column('varchar') createdAt!: string
}

@Entity('task_item')
export class TaskItem {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') taskId!: number
  @ManyToOne(() => Task) task?: Relation<Task>
  @Column('smallint') ordinal!: number
  @Column('varchar') text!: string
  @Column('boolean') done!: boolean
}

@Entity('task_paper')
export class TaskPaper {
  @PrimaryColumn('int') taskId!: number
  @ManyToOne(() => Task) task?: Relation<Task>
  @PrimaryColumn('int') paperId!: number
}

@Entity('task_person')
export class TaskPerson {
  @PrimaryColumn('int') taskId!: number
  @ManyToOne(() => Task) task?: Relation<Task>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('task_wait')
export class TaskWait {
  @PrimaryColumn('int') taskId!: number
  @ManyToOne(() => Task) task?: Relation<Task>
  @PrimaryColumn('int') waitsFor!: number
  @ManyToOne(() => Task) @JoinColumn({ name: 'waits_for' }) waitsForTask?: Relation<Task>
}

export const taskEntities = [ProcedureDef, ProcedureVersion, ProcedureRun, Task, TaskComment, TaskItem, TaskPaper, TaskPerson, TaskWait]

import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm'

@Entity('procedure_def')
export class ProcedureDef {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') description!: string
  @Column('int', { nullable: true }) areaId!: number | null
}

@Entity('procedure_step')
export class ProcedureStep {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') procedureId!: number
  @Column('smallint') ordinal!: number
  @Column('varchar') text!: string
  @Column('varchar') assignTo!: 'lead' | 'paralegal' | 'starter'
  @Column('smallint', { nullable: true }) anchorStep!: number | null
  @Column('smallint') count!: number
  @Column('varchar') unit!: 'calendar' | 'business'
  @Column('varchar') direction!: 'after' | 'before'
  @Column('varchar') priority!: 'high' | 'normal' | 'low'
}

@Entity('procedure_run')
export class ProcedureRun {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') procedureId!: number
  @Column('int') matterId!: number
  @Column('varchar') startedOn!: string
  @Column('int') startedBy!: number
  @Column('smallint') steps!: number
}

@Entity('task')
export class Task {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('int', { nullable: true }) runId!: number | null
  @Column('smallint', { nullable: true }) step!: number | null
  @Column('varchar') text!: string
  @Column('int') assigneeId!: number
  @Column('int') assignedBy!: number
  @Column('varchar') priority!: 'high' | 'normal' | 'low'
  @Column('varchar', { nullable: true }) dueOn!: string | null
  @Column('varchar', { nullable: true }) doneAt!: string | null
  @Column('int', { nullable: true }) doneBy!: number | null
  @Column('varchar') createdAt!: string
}

export const taskEntities = [ProcedureDef, ProcedureStep, ProcedureRun, Task]

import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import type { FieldType } from '@heron/core/fields'

@Entity('field_group')
export class FieldGroup {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') owner!: 'contact' | 'matter' | 'time'
  @Column('varchar') name!: string
  @Column('boolean') repeating!: boolean
  @Column('smallint') ordinal!: number
}

@Entity('field_def')
export class FieldDef {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') groupId!: number
  @ManyToOne(() => FieldGroup) group?: Relation<FieldGroup>
  @Column('varchar') name!: string
  @Column('varchar') mergeKey!: string
  @Column('varchar') type!: FieldType
  @Column('longtext') choices!: string
  @Column('boolean') otherAllowed!: boolean
  @Column('boolean') required!: boolean
  @Column('varchar') areaIds!: string
  @Column('int', { nullable: true }) shownIfField!: number | null
  @ManyToOne(() => FieldDef) @JoinColumn({ name: 'shown_if_field' }) shownIf?: Relation<FieldDef>
  @Column('varchar', { nullable: true }) shownIfValue!: string | null
  @Column('smallint') ordinal!: number
  @Column('boolean') retired!: boolean
}

@Entity('field_value')
export class FieldValue {
  @PrimaryColumn('int') fieldId!: number
  @ManyToOne(() => FieldDef) field?: Relation<FieldDef>
  @PrimaryColumn('int') ownerId!: number
  @PrimaryColumn('smallint') item!: number
  @Column('varchar') value!: string
  @Column('varchar') sorted!: string
}

export const fieldEntities = [FieldGroup, FieldDef, FieldValue]

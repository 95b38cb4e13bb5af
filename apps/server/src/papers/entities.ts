import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm'

@Entity('template')
export class Template {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar') description!: string
  @Column('varchar') folder!: string
  @Column('bigint') fileId!: number
  @Column('varchar') fields!: string
}

@Entity('paper')
export class Paper {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @Column('varchar') folder!: string
  @Column('varchar') name!: string
  @Column('bigint') fileId!: number
  @Column('int', { nullable: true }) templateId!: number | null
  @Column('longtext', { nullable: true }) madeWith!: string | null
  @Column('int') createdBy!: number
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) deletedAt!: string | null
}

export const paperEntities = [Template, Paper]

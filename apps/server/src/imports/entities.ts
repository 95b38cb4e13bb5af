import { Column, Entity, ManyToOne, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { StoredFile } from '../platform/entities'

@Entity('import_run')
export class ImportRun {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') what!: 'contacts' | 'matters' | 'costs' | 'opening' | 'chart'
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('varchar') fileName!: string
  @Column('longtext') columns!: string
  @Column('longtext') mapping!: string
  @Column('varchar') state!: 'read' | 'tried' | 'loaded' | 'failed'
  @Column('int') total!: number
  @Column('int') good!: number
  @Column('longtext') faults!: string
  @Column('bigint', { nullable: true }) jobId!: number | null
  @Column('int') madeBy!: number
  @Column('varchar') madeAt!: string
}

export const importEntities = [ImportRun]

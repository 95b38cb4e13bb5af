import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Paper } from '../entities'

@Entity('paper_block')
export class PaperBlock {
  @PrimaryColumn('int') block!: number
}

@Entity('paper_indexed')
export class PaperIndexed {
  @PrimaryColumn('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @Column('mediumblob') words!: Buffer
}

@Entity('paper_posting')
export class PaperPosting {
  @PrimaryColumn('int') wordId!: number
  @PrimaryColumn('int') block!: number
  @Column('varbinary') papers!: Buffer
}

@Entity('paper_word')
export class PaperWord {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') word!: string
}

export const searchEntities = [PaperBlock, PaperIndexed, PaperPosting, PaperWord]

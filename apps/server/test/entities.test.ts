import { afterAll, beforeAll, expect, it } from 'vitest'
import { Stage } from '../src/matters/entities'
import { rows } from '../src/platform'
import { Office } from './office'

let office: Office
beforeAll(async () => void (office = await Office.open()))
afterAll(() => office.close())

interface Kept {
  tableName: string
  name: string
  type: string
  nullable: number
  primary: number
  counts: number
  derived: number
}

/** What a column of the database is called in an entity: days and moments are read as text, words from a list are text. */
const family = (type: string): string => {
  if (type === 'tinyint(1)') return 'boolean'
  const base = type.replace(/[( ].*/, '')
  return ['date', 'datetime', 'time', 'enum'].includes(base) ? 'varchar' : base
}
const said = (c: Office['db']['entityMetadatas'][number]['columns'][number]): string => {
  const derived = !c.isInsert && !c.isUpdate ? ' derived' : ''
  // What refers to another row has the type of its key there; the database sees to that by itself.
  return `${c.referencedColumn ? 'reference' : String(c.type)}${c.isNullable ? ' nullable' : ''}${c.isPrimary ? ' primary' : ''}${c.isGenerated ? ' counts up' : ''}${derived}`
}
const found = (c: Kept, refers: boolean): string => {
  // A key that counts up is read as a number, whatever its width.
  const type = refers ? 'reference' : c.counts ? 'int' : family(c.type)
  return `${type}${c.nullable ? ' nullable' : ''}${c.primary ? ' primary' : ''}${c.counts ? ' counts up' : ''}${c.derived ? ' derived' : ''}`
}

it('says of every column of every table what the database says', async () => {
  const columns = await rows<Kept>(
    office.db.manager,
    `SELECT table_name AS tableName, column_name AS name, column_type AS type, is_nullable = 'YES' AS nullable, column_key = 'PRI' AS \`primary\`,
              extra LIKE '%auto_increment%' AS counts, IFNULL(generation_expression, '') <> '' AS derived
       FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name <> 'migrations' ORDER BY table_name, ordinal_position`,
  )
  const refer = new Set(
    office.db.entityMetadatas.flatMap((e) => e.columns.flatMap((c) => (c.referencedColumn ? [`${e.tableName}.${c.databaseName}`] : []))),
  )
  const kept = columns.map((c) => `${c.tableName}.${c.name}: ${found(c, refer.has(`${c.tableName}.${c.name}`))}`)
  const declared = office.db.entityMetadatas.flatMap((e) => e.columns.map((c) => `${e.tableName}.${c.databaseName}: ${said(c)}`))
  expect(declared.sort()).toEqual(kept.sort())
})

/** References into an area of a higher rank: that area knows this one, so they are keys alone here. */
const upward = [
  'docket_entry_paper.paper_id → paper.id',
  'mail_file.message_key → mail.message_key',
  'matter.bill_to_id → contact.id',
  'matter.client_id → contact.id',
  'matter.stage_id → stage.id',
  'note.paper_id → paper.id',
  'settlement.portion_id → fee_portion.id',
  'task_paper.paper_id → paper.id',
  'time_entry.activity → activity.code',
  'trigger_event.paper_id → paper.id',
  'trigger_event.party_id → matter_party.id',
]

it('has a relation for every reference that the database holds, and no other', async () => {
  const references = await rows<{ said: string }>(
    office.db.manager,
    `SELECT CONCAT(table_name, '.', column_name, ' → ', referenced_table_name, '.', referenced_column_name) AS said
       FROM information_schema.key_column_usage WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL`,
  )
  const declared = office.db.entityMetadatas.flatMap((e) =>
    e.relations.flatMap((r) =>
      r.joinColumns.map(
        (c) => `${e.tableName}.${c.databaseName} → ${r.inverseEntityMetadata.tableName}.${c.referencedColumn!.databaseName}`,
      ),
    ),
  )
  expect([...declared, ...upward].sort()).toEqual(references.map((r) => r.said).sort())
})

it('reads along its relations', async () => {
  const stage = await office.db.manager.findOneOrFail(Stage, { where: {}, relations: { area: true } })
  expect(stage.area).toMatchObject({ id: stage.areaId, name: expect.any(String) as string })
})

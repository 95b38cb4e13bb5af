import { afterAll, beforeAll, expect, it } from 'vitest'
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
  return `${String(c.type)}${c.isNullable ? ' nullable' : ''}${c.isPrimary ? ' primary' : ''}${c.isGenerated ? ' counts up' : ''}${derived}`
}
const found = (c: Kept): string => {
  // A key that counts up is read as a number, whatever its width.
  const type = c.counts ? 'int' : family(c.type)
  return `${type}${c.nullable ? ' nullable' : ''}${c.primary ? ' primary' : ''}${c.counts ? ' counts up' : ''}${c.derived ? ' derived' : ''}`
}

it('says of every column of every table what the database says', async () => {
  const columns = await rows<Kept>(
    office.db.manager,
    `SELECT table_name AS tableName, column_name AS name, column_type AS type, is_nullable = 'YES' AS nullable, column_key = 'PRI' AS \`primary\`,
              extra LIKE '%auto_increment%' AS counts, IFNULL(generation_expression, '') <> '' AS derived
       FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name <> 'migrations' ORDER BY table_name, ordinal_position`,
  )
  const kept = columns.map((c) => `${c.tableName}.${c.name}: ${found(c)}`)
  const declared = office.db.entityMetadatas.flatMap((e) => e.columns.map((c) => `${e.tableName}.${c.databaseName}: ${said(c)}`))
  expect(declared.sort()).toEqual(kept.sort())
})

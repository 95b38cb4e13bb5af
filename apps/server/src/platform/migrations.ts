import { readFileSync } from 'node:fs'
import type { MigrationInterface, QueryRunner } from 'typeorm'
import type { SqlMigration } from './area'

/** Migrations are put in order by this stamp in front of their numbers, which TypeORM wants at the end of a name. */
const stamp = 1_767_200_000_000

/**
 * A file of hand-written SQL as TypeORM wants a migration. Its statements are apart by lines of `-- next`, or by semicolons where it has
 * none; each is safe to run again after a broken start.
 */
export function migrationClass({ name, file }: SqlMigration): new () => MigrationInterface {
  return class implements MigrationInterface {
    name = `${className(name)}${stamp + Number(name.slice(0, 4))}`
    async up(runner: QueryRunner): Promise<void> {
      const sql = readFileSync(file, 'utf8')
      const apart = /^-- next$/m.test(sql) ? /^-- next$/m : /;\s*\n/
      for (const statement of sql.split(apart)) if (statement.replace(/^--.*$/gm, '').trim()) await runner.query(statement)
    }
    down(): Promise<void> {
      return Promise.reject(new Error('Migrations only go forward'))
    }
  }
}

const className = (name: string) =>
  name
    .slice(5)
    .split('-')
    .map((w) => w.charAt(0).toUpperCase() + w.slice(1))
    .join('')

/** Those of before each area brought its own. */
export const firstMigrations: SqlMigration[] = [
  '0001-tables',
  '0002-ledger',
  '0003-rules',
  '0004-people-and-access',
  '0005-tasks',
  '0006-triggers',
  '0007-payers',
  '0008-figures',
  '0009-docket',
  '0010-reminders',
  '0011-entries',
  '0012-rule-sets',
  '0013-calendar',
  '0014-sources',
  '0015-guards',
  '0016-trust-rules',
  '0017-docket-days',
  '0018-set-up',
  '0063-jobs-by-kind',
  '0068-no-steps',
].map((name) => ({ name, file: new URL(`./migrations/${name}.sql`, import.meta.url) }))

import { addDays, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'

/** How far ahead recurring dates stand on the docket, in days; the next one stands there however far it is. */
export const ahead = 400

/** Series whose dates reach not far enough ahead. */
export const seriesToExtend = (base: Omit<Ctx, 'actor'>, today: Day) =>
  rows<{ id: number }>(
    base.db.manager,
    `SELECT s.id FROM docket_series s JOIN matter m ON m.id = s.matter_id WHERE s.ended_on IS NULL AND m.closed_on IS NULL AND s.made_to < ?`,
    [addDays(today, ahead - 30)],
  )

/** In whose name a series goes on: who made it, or who leads the matter. */
export const keeperOfSeries = (base: Omit<Ctx, 'actor'>, id: number) =>
  row<{ userId: number }>(
    base.db.manager,
    `SELECT COALESCE((SELECT u.id FROM user_account u WHERE u.id = s.created_by AND u.active), m.lead_id) AS userId FROM docket_series s JOIN matter m ON m.id = s.matter_id WHERE s.id = ?`,
    [id],
  )

/** A series with what its matter counts by. */
export const seriesWithMatter = (m: EntityManager, id: number) =>
  row<{
    rule: string
    firstDay: Day
    body: string
    madeTo: Day
    matterId: number
    leadId: number
    ruleSetKey: string | null
  }>(
    m,
    `SELECT s.rule, s.first_day AS firstDay, s.body, s.made_to AS madeTo, m.id AS matterId, m.lead_id AS leadId, m.rule_set_key AS ruleSetKey FROM docket_series s JOIN matter m ON m.id = s.matter_id WHERE s.id = ? AND s.ended_on IS NULL FOR UPDATE`,
    [id],
  )

/** The later open dates of a series after one of its entries. */
export const later = (m: EntityManager, entryId: number) =>
  rows<{ id: number; day: Day; seriesId: number; matterId: number; title: string }>(
    m,
    `SELECT x.id, x.day, x.series_id AS seriesId, x.matter_id AS matterId, x.title FROM docket_entry d JOIN docket_entry x ON x.series_id = d.series_id AND x.recurs_on > d.recurs_on
      WHERE d.id = ? AND x.removed_at IS NULL AND x.mark IN ('open', 'in hand') ORDER BY x.recurs_on FOR UPDATE`,
    [entryId],
  )

/** The series that a date belongs to. */
export const seriesOf = (m: EntityManager, entryId: number) =>
  row<{ id: number; recursOn: Day }>(
    m,
    `SELECT series_id AS id, recurs_on AS recursOn FROM docket_entry WHERE id = ? AND series_id IS NOT NULL`,
    [entryId],
  )

/** The same, locked until it is changed. */
export const lockedSeriesOf = (m: EntityManager, entryId: number) =>
  row<{ id: number; body: string; title: string }>(
    m,
    `SELECT s.id, s.body, JSON_VALUE(s.body, '$.title') AS title FROM docket_entry d JOIN docket_series s ON s.id = d.series_id WHERE d.id = ? FOR UPDATE`,
    [entryId],
  )

/** The papers of a date. */
export const papersOfDate = (m: EntityManager, id: number) =>
  rows<{ id: number }>(m, `SELECT paper_id AS id FROM docket_entry_paper WHERE entry_id = ?`, [id])

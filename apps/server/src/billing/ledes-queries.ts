import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { row, rows } from '../platform/database'

interface Head {
  number: string
  issuedOn: Day
  workTo: Day
  own: string
  matter: string
  clientNumber: string
  matterNumber: string
  firmNumber: string
  format: 'pdf' | 'ledes' | null
  initials: string
  name: string
  role: string
  title: string
}
/** What a bill is about, and the numbers by which the client, who may be the payer or another, knows itself and the matter. */
export const ledesHead = (m: EntityManager, billId: number, scope: string) =>
  row<Head>(
    m,
    `SELECT b.number, b.issued_on AS issuedOn, b.work_to AS workTo, m.number AS own, m.name AS matter,
            COALESCE(NULLIF(pt.their_number, ''), ct.their_number, '') AS clientNumber, COALESCE(mt.their_number, '') AS matterNumber, f.tax_number AS firmNumber,
            COALESCE(mt.format, pt.format, ct.format) AS format, u.initials, u.name, u.role, u.title
       FROM bill b JOIN matter m ON m.id = b.matter_id JOIN user_account u ON u.id = m.lead_id JOIN firm f
       LEFT JOIN bill_terms mt ON mt.owner = 'matter' AND mt.owner_id = m.id
       LEFT JOIN bill_terms ct ON ct.owner = 'client' AND ct.owner_id = m.client_id
       LEFT JOIN bill_terms pt ON pt.owner = 'client' AND pt.owner_id = b.payer_id
      WHERE b.id = ? AND ${scope}`,
    [billId],
  )

export interface LedesLineRow {
  kind: 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest' | 'tax'
  day: Day | null
  text: string
  minutes: number | null
  rate: number | null
  charged: number
  net: number
  told: number
  initials: string | null
  name: string | null
  role: string | null
  title: string | null
  task: string | null
  activity: string | null
  expense: string | null
  units: number | null
  unitRate: number | null
}
/** Lines of a bill with the codes under which their work and costs were recorded, which do not change once they are billed. */
export const ledesLines = (m: EntityManager, billId: number) =>
  rows<LedesLineRow>(
    m,
    `SELECT l.kind, l.day, l.text, l.minutes, l.rate, l.charged, l.net, l.told, u.initials, u.name, u.role, u.title, t.task, t.activity, k.expense_code AS expense, c.units, c.unit_rate AS unitRate
       FROM bill_line l LEFT JOIN user_account u ON u.id = l.timekeeper_id
       LEFT JOIN time_entry t ON l.kind = 'time' AND t.id = l.source_id
       LEFT JOIN cost_entry c ON l.kind IN ('soft cost', 'hard cost') AND c.id = l.source_id LEFT JOIN cost_kind k ON k.id = c.kind_id
      WHERE l.bill_id = ? ORDER BY l.ordinal`,
    [billId],
  )

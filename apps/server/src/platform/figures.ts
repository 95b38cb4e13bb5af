/**
 * The figures of money, each defined here and nowhere else, as SQL in cents. `matter_figure` and `bill_figure` keep some of them by
 * triggers for lists; a test compares all places where a figure is shown, and the check of every entry compares what bills leave open.
 */

/** What a bill leaves open: its total less what was applied to it, payments and their reversals below zero; kept by triggers. */
export const openOf = (b = 'b') => `(SELECT kf.open_amount FROM bill_figure kf WHERE kf.bill_id = ${b}.id)`
/** Bills that leave something open, on the alias of `bill_figure`: found by its indexes, however many were paid. */
export const isOpenBill = (f: string) => `(${f}.is_open = 1 AND ${f}.open_amount > 0)`
/** Bills of which something may have been open on a day, which is bound once: those that are open now, and those settled since. */
export const maybeOpenOn = `(SELECT bill_id FROM bill_figure WHERE is_open = 1 UNION SELECT bill_id FROM allocation WHERE applied_on > ?)`
/** What a line of a bill leaves open. */
export const openOfLine = (l = 'l') =>
  `(${l}.net - COALESCE((SELECT SUM(al.amount) FROM allocation al WHERE al.bill_line_id = ${l}.id), 0))`
/** What each bill leaves open as of a day, which is bound once: payments applied later do not count yet. */
export const openAsOf = (b = 'b') =>
  `(${b}.total - COALESCE((SELECT SUM(al.amount) FROM allocation al WHERE al.bill_id = ${b}.id AND al.applied_on <= ?), 0))`
/** What a matter's bills leave open together. */
export const owedOn = (matterId: string) =>
  `(SELECT COALESCE(SUM(ob.open_amount), 0) FROM bill_figure ob WHERE ob.matter_id = ${matterId} AND ob.is_open = 1)`

/** The same as triggers keep it, on the alias of `matter_figure`, for lists of many matters. */
export const owedKept = (f: string) => `COALESCE(${f}.owed, 0)`

/** The rate of tax on a bill of before there were several, as its pre-bill tells it; null on bills brought in. */
export const oldTaxRateOf = (b: string) =>
  `COALESCE((SELECT p.tax_basis_points FROM pre_bill p WHERE p.id = ${b}.pre_bill_id), (SELECT MAX(p.tax_basis_points) FROM pre_bill p WHERE p.bill_id = ${b}.id))`
/** Time that goes on the next bill, with what is done at no charge; what is not billable never does. */
export const isUnbilledTime = (t: string) => `${t}.waits = 1`
/** What an unbilled entry of time adds to the next bill: nothing where a fee covers it, or where it is at no charge. */
export const worthOfTime = (t: string) => `${t}.open_amount`
/** What recorded time is worth by its own rate, billed or not; nothing where it is at no charge or not billable. */
export const recordedWorth = (t: string) => `IF(${t}.charge = 'billable', ${t}.amount, 0)`
/** Costs that go on the next bill: not what was reversed, is not to be billed, or was paid by trust money. */
export const isUnbilledCost = (c: string) => `${c}.bill_id IS NULL AND ${c}.open_amount > 0`
/** Costs that trust money paid, which the next bill tells and does not charge. */
export const isToldCost = (c: string) =>
  `${c}.bill_id IS NULL AND ${c}.state = 'recorded' AND ${c}.paid_from = 'trust' AND EXISTS (SELECT 1 FROM payment_out po WHERE po.id = ${c}.payment_out_id AND po.state = 'posted')`
/** Costs owed to whoever was to be paid, for which no bill of a vendor stands. */
export const isOwedCost = (c: string) => `${c}.paid_from = 'owed' AND ${c}.vendor_bill_id IS NULL AND ${c}.state = 'recorded'`
/** Portions of a fee that go on the next bill: those charged at opening, and of the others those that were reached. */
export const isUnbilledPortion = (p: string) => `${p}.open_amount > 0`

/** Fees of a matter that are still to be charged, be it later. */
export const portionsToCome = (matterId: string) =>
  `(SELECT COUNT(*) FROM fee_portion tp WHERE tp.matter_id = ${matterId} AND tp.bill_id IS NULL)`

/** Unbilled work of one matter: time that no fee covers, costs, and portions of a fee. */
export const unbilledOn = {
  time: (m: string) =>
    `(SELECT COALESCE(SUM(${worthOfTime('ut')}), 0) FROM time_entry ut WHERE ut.matter_id = ${m}.id AND ${isUnbilledTime('ut')})`,
  costs: (m: string) => `(SELECT COALESCE(SUM(uc.amount), 0) FROM cost_entry uc WHERE uc.matter_id = ${m}.id AND ${isUnbilledCost('uc')})`,
  portions: (m: string) =>
    `(SELECT COALESCE(SUM(up.amount), 0) FROM fee_portion up WHERE up.matter_id = ${m}.id AND ${isUnbilledPortion('up')})`,
}

/** What was billed on a matter before tax and interest, less what was credited and written off. */
export const billedOn = (matterId: string) =>
  `(SELECT COALESCE(SUM(bl.net - ${lessenedOn('bl')}), 0) FROM bill_line bl JOIN bill bb ON bb.id = bl.bill_id WHERE bb.matter_id = ${matterId} AND bl.kind NOT IN ('tax', 'interest'))`

/** What is held in trust on the ledgers of a matter. */
export const heldOn = (matterId: string) =>
  `(SELECT COALESCE(SUM(he.amount), 0) FROM ledger_entry he JOIN client_ledger hl ON hl.id = he.ledger_id WHERE hl.matter_id = ${matterId})`

/** What of a payment is on no bill and was neither refunded nor moved to trust, a liability to its payer; kept by triggers. */
export const creditLeft = (p: string) => `COALESCE((SELECT pc.amount FROM payment_credit pc WHERE pc.payment_id = ${p}.id), 0)`

/** What credit notes, write-offs and a void took of a line of a bill. */
export const lessenedOn = (l = 'l'): string =>
  `COALESCE((SELECT SUM(al.amount) FROM allocation al JOIN payment ap ON ap.id = al.payment_id WHERE al.bill_line_id = ${l}.id AND ap.kind IN ('credit note', 'write-off', 'void')), 0)`

/** What recorded work is worth by its own rate before anything happens to it; what is not billable has no value. */
export const workedValue = (t: string) => `IF(${t}.charge <> 'non-billable' AND ${t}.state <> 'reversed', ${t}.amount, 0)`
/** Whether an entry's value stands for the hours of a fee, and not for itself. */
const underFee = (t: string) => `(${t}.covered AND ${t}.charge = 'billable')`
const chargedByTime = (t: string) => `(${t}.charge = 'billable' AND NOT ${t}.covered)`

/**
 * What became of recorded work, each step once, as SQL in cents. Of entries of time on their alias; of lines of bills on theirs, with
 * the entry that they came from (null for fees).
 */
export const flowOfTime = (t: string) => ({
  worked: workedValue(t),
  noCharge: `IF(${t}.charge = 'no charge' AND ${t}.state <> 'reversed', ${t}.amount, 0)`,
  dropped: `IF(${t}.state = 'written off' AND ${chargedByTime(t)}, ${t}.amount, 0)`,
  waiting: `IF(${t}.bill_id IS NULL AND ${t}.state IN ('draft', 'posted') AND ${chargedByTime(t)}, ${t}.amount, 0)`,
  feeDifference: `IF(${underFee(t)} AND ${t}.state <> 'reversed', -${t}.amount, 0)`,
})
/** A line keeps how its time stood when it was billed. */
export const flowOfTimeLine = (l: string) => {
  const byTime = `(${l}.time_charge = 'billable' AND NOT ${l}.time_covered)`
  return {
    noCharge: `IF(${l}.no_charge AND ${byTime}, ${l}.worked, 0)`,
    feeDifference: `IF(${l}.time_covered AND ${l}.time_charge = 'billable', ${l}.charged, 0)`,
    writtenDown: `CASE WHEN ${l}.time_charge = 'no charge' THEN -${l}.charged WHEN ${byTime} AND NOT ${l}.no_charge THEN ${l}.worked - ${l}.charged ELSE 0 END`,
    discount: `${l}.discount`,
    billed: `${l}.net`,
  }
}
export const flowOfFeeLine = (l: string) => ({ feeDifference: `${l}.charged`, discount: `${l}.discount`, billed: `${l}.net` })
/** What was applied to a line, by the kind of its document. */
export const flowOfAllocation = (a: string, p: string) => ({
  credited: `IF(${p}.kind IN ('credit note', 'void'), ${a}.amount, 0)`,
  writtenOff: `IF(${p}.kind = 'write-off', ${a}.amount, 0)`,
  collected: `IF(${p}.kind IN ('credit note', 'void', 'write-off'), 0, ${a}.amount)`,
})
/** Whether a bill was voided; what it carried is unbilled again. The voided ones are gathered once for all that are asked about. */
export const isVoid = (b: string) =>
  `${b}.id IN (SELECT va.bill_id FROM payment vp JOIN allocation va ON va.payment_id = vp.id WHERE vp.kind = 'void')`

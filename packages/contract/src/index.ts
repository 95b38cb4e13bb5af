import { bank } from './bank'
import { billing } from './billing'
import { calendar } from './calendar'
import { costs } from './costs'
import { docket } from './docket'
import { fields } from './fields'
import { firm } from './firm'
import { books } from './books'
import { trust } from './ledger'
import { trustActs } from './trust-acts'
import { checks } from './checks'
import { calls } from './calls'
import { matters } from './matters'
import { imports, notes, views } from './notes'
import { filing } from './filing'
import { paying } from './cards'
import { oversight } from './oversight'
import { outside, papers } from './papers'
import { people } from './people'
import { reports } from './reports'
import { rules } from './rules'
import { setUp } from './set-up'
import { shell } from './shell'
import { tasks } from './tasks'
import { templates } from './templates'
import { time } from './time'
import { vendors } from './vendors'

/** Every route of the application: the one meeting point of server and web. */
export const contract = {
  shell,
  firm,
  setUp,
  people,
  fields,
  notes,
  views,
  imports,
  matters,
  docket,
  calendar,
  reports,
  rules,
  tasks,
  papers,
  filing,
  templates,
  outside,
  paying,
  time,
  costs,
  billing,
  trust,
  books,
  bank,
  trustActs,
  checks,
  calls,
  vendors,
  oversight,
}

export * from './names'
export * from './rights'
export { moneyRefusals, refusalCodes, type RefusalCode } from './refusals'
export type { RouteMeta } from './base'
export type { Me, Told } from './shell'
export { contactIn as contactInSchema, contactKinds, decisions, type ContactIn, type EnquiryIn, type EnquirySeen } from './people'
export { type FieldGroupOut, type FieldIn, type FieldOwner, type FieldValues } from './fields'
export {
  boardGroups,
  conflictStates,
  sides,
  teamRoles,
  type TeamRole,
  type MatterChange,
  type MatterFilter,
  type MatterIn,
  type MatterPlace,
  type TeamStanding,
  type PayerIn,
} from './matters'
export { costKinds, paidFrom, type CostFilter, type CostIn, type CostKindIn, type RecurringIn } from './costs'
export { type AgendaIn } from './docket'
export { type ChainOut, type DifferenceOut, type DifferenceSeen, type DocketActIn, type DocketRow } from './docket-rows'
export { reportFormats, reportKinds, type ReportHow, type ReportIn } from './reports'
export { procedureFile, taskViews, type ProcedureFile, type ProcedureIn, type TaskIn, type TaskRow } from './tasks'
export { type ClientTerms, type MatterTerms, type TimeFilter, type TimeIn } from './time'
export { type CsvMatchIn } from './bank'
export { type SheetIn } from './ledger'
export { bookFiles, type IncomeIn, type JournalTemplateIn } from './books'
export { type CallIn } from './calls'
export {
  asideKinds,
  flowGroups,
  matterGroups,
  reportKeys,
  spanReports,
  type AsideKind,
  type FiguresIn,
  type FlowIn,
  type FlowLinesIn,
  type FlowOut,
  type ReportColumnKind,
  type ReportKey,
  type ReportTable,
  type ReportWhat,
  type ScheduleIn,
} from './oversight'
export { vendorBillStates, type VendorBillIn, type VendorRecurringIn } from './vendors'
export { checkStates } from './checks'
export {
  holdKinds,
  type ChargeIn,
  type CorrectionIn,
  type HoldIn,
  type InterestIn,
  type MoveIn,
  type OwnerIn,
  type ReturnIn,
} from './trust-acts'
export { firstSteps, handoverKinds, type AreaIn, type FeeIn, type FirmSettings, type FirstSteps, type PersonIn } from './firm'
export { importKinds, noticeKinds } from './notes'
export { folderPath, paperKinds } from './papers'
export { questionTypes, type Question } from './templates'
export {
  type AccountIn,
  type BankIn,
  type NewBank,
  type TrustRules,
  type Letterhead,
  type LogFilter,
  type MailIn,
  mailSecurities,
  type ReminderRules,
} from './set-up'
export { type SettlementIn } from './settlements'
export { type ArrangementChange, type ContingentIn, type PortionIn } from './arrangements'
export { type BillLookIn } from './cards'

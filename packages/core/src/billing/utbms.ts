/** Codes of the Uniform Task-Based Management System, by which electronic bills say what was done. */
export const taskCodes: readonly [code: string, name: string][] = [
  ['L100', 'Case assessment, development and administration'],
  ['L110', 'Fact investigation and development'],
  ['L120', 'Analysis and strategy'],
  ['L130', 'Experts and consultants'],
  ['L140', 'Document and file management'],
  ['L150', 'Budgeting'],
  ['L160', 'Settlement and non-binding ADR'],
  ['L190', 'Other case assessment, development and administration'],
  ['L200', 'Pre-trial pleadings and motions'],
  ['L210', 'Pleadings'],
  ['L220', 'Preliminary injunctions and provisional remedies'],
  ['L230', 'Court-mandated conferences'],
  ['L240', 'Dispositive motions'],
  ['L250', 'Other written motions and submissions'],
  ['L260', 'Class action certification and notice'],
  ['L300', 'Discovery'],
  ['L310', 'Written discovery'],
  ['L320', 'Document production'],
  ['L330', 'Depositions'],
  ['L340', 'Expert discovery'],
  ['L350', 'Discovery motions'],
  ['L390', 'Other discovery'],
  ['L400', 'Trial preparation and trial'],
  ['L410', 'Fact witnesses'],
  ['L420', 'Expert witnesses'],
  ['L430', 'Written motions and submissions'],
  ['L440', 'Other trial preparation and support'],
  ['L450', 'Trial and hearing attendance'],
  ['L460', 'Post-trial motions and submissions'],
  ['L470', 'Enforcement'],
  ['L500', 'Appeal'],
  ['L510', 'Appellate motions and submissions'],
  ['L520', 'Appellate briefs'],
  ['L530', 'Oral argument'],
  ['C100', 'Fact gathering'],
  ['C200', 'Researching law'],
  ['C300', 'Analysis and advice'],
  ['C400', 'Third party communication'],
  ['P100', 'Project administration'],
  ['P200', 'Fact gathering and due diligence'],
  ['P210', 'Corporate review'],
  ['P220', 'Tax'],
  ['P230', 'Environmental'],
  ['P240', 'Real and personal property'],
  ['P250', 'Employee and labor'],
  ['P260', 'Intellectual property'],
  ['P270', 'Regulatory reviews'],
  ['P280', 'Other'],
  ['P300', 'Structure, strategy and analysis'],
  ['P400', 'Initial document preparation and filing'],
  ['P500', 'Negotiation, revision and responses'],
  ['P600', 'Completion and closing'],
  ['P700', 'Post-completion and post-closing'],
  ['P800', 'Maintenance and renewal'],
]
export const activityCodes = ['A101', 'A102', 'A103', 'A104', 'A105', 'A106', 'A107', 'A108', 'A109', 'A110', 'A111'] as const
/** E101 to E124. */
export const expenseCodes: readonly string[] = Array.from({ length: 24 }, (_, i) => `E${101 + i}`)

const tasks = new Set(taskCodes.map(([code]) => code))
/** Whether it is a task code of UTBMS. */
export const isTaskCode = (code: string): boolean => tasks.has(code)
/** Whether it is an activity code of UTBMS. */
export const isActivityCode = (code: string): boolean => (activityCodes as readonly string[]).includes(code)
/** Whether it is an expense code of UTBMS. */
export const isExpenseCode = (code: string): boolean => expenseCodes.includes(code)

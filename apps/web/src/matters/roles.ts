export const partyRoles = [
  'plaintiff',
  'defendant',
  'petitioner',
  'respondent',
  'claimant',
  'insurer',
  'opposer',
  'applicant',
  'heir',
  'guardian ad litem',
  'related',
]

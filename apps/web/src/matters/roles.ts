import type { Choice } from '../ui/Picker.vue'

export interface OpenParty {
  who: Choice
  role: string
  side: 'ours' | 'adverse' | 'other'
  counsel: Choice | null
}

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

/** The role on a team that goes with someone's role in the firm. */
export function teamRoleOf(role: string | undefined): 'lawyer' | 'paralegal' | 'assistant' | 'outside' {
  if (role === 'lawyer' || role === 'paralegal') return role
  return role === 'outside lawyer' ? 'outside' : 'assistant'
}

import type { FirmPlan } from './set-up'

/** The chart of accounts that a firm starts with; its roles tell where the application posts. */
export const startingAccounts: FirmPlan['accounts'] = [
  { code: '1010', name: 'Operating bank', kind: 'asset' },
  { code: '1020', name: 'Pooled trust bank', kind: 'asset' },
  { code: '1100', name: 'Accounts receivable', kind: 'asset', role: 'receivable' },
  { code: '1200', name: 'Work in progress', kind: 'asset', role: 'work in progress' },
  { code: '1210', name: 'Unbilled fees (contra)', kind: 'asset', role: 'unbilled fees' },
  { code: '1300', name: 'Client costs advanced', kind: 'asset', role: 'costs advanced' },
  { code: '1310', name: 'Firm money in trust for bank charges', kind: 'asset', role: 'firm money in trust' },
  { code: '2010', name: 'Owed to clients, pooled trust', kind: 'liability' },
  { code: '2020', name: 'Owed to clients, separate trust', kind: 'liability' },
  { code: '2100', name: 'Accounts payable', kind: 'liability', role: 'payables' },
  { code: '2200', name: 'Client credits', kind: 'liability', role: 'client credits' },
  { code: '2300', name: 'Tax payable', kind: 'liability', role: 'tax payable' },
  { code: '3010', name: 'Partners’ equity', kind: 'equity', role: 'equity' },
  { code: '3900', name: 'Opening clearing', kind: 'equity', role: 'opening clearing' },
  { code: '4010', name: 'Fees', kind: 'income', role: 'fees' },
  { code: '4050', name: 'Interest on overdue bills', kind: 'income', role: 'interest' },
  { code: '4100', name: 'Costs recovered', kind: 'income', role: 'costs recovered' },
  { code: '5010', name: 'Salaries', kind: 'expense' },
  { code: '5020', name: 'Rent', kind: 'expense' },
  { code: '5030', name: 'Insurance', kind: 'expense' },
  { code: '5040', name: 'Research and subscriptions', kind: 'expense' },
  { code: '5800', name: 'Client costs not recovered', kind: 'expense', role: 'costs not recovered' },
  { code: '5850', name: 'Bad debts', kind: 'expense', role: 'bad debts' },
  { code: '5900', name: 'Bank charges', kind: 'expense', role: 'bank charges' },
]

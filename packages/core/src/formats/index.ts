export * from './ledger-journal'

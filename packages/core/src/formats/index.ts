export * from './ledger-journal'
export * from './csv'
export * from './vcard'
export * from './icalendar'

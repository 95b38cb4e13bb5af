/** Kinds of letters that go out about bills. */
export const billLetterKinds = ['bill', 'reminder 1', 'reminder 2', 'reminder 3', 'statement', 'receipt'] as const
export type BillLetterKind = (typeof billLetterKinds)[number]
export interface LetterWords {
  readonly subject: string
  readonly body: string
}
/** What may stand in braces in such a letter. */
export const billLetterFields = ['payer', 'firm', 'bill', 'matter', 'amount', 'open', 'due', 'days', 'link'] as const
export type BillLetterField = (typeof billLetterFields)[number]

const words = (subject: string, ...lines: string[]): LetterWords => ({ subject, body: lines.join('\n\n') })
/** The words that ship; a firm writes its own over them. */
export const usualBillLetters: Record<BillLetterKind, Record<'en' | 'es', LetterWords>> = {
  bill: {
    en: words('Bill {bill} from {firm}', 'Dear {payer},', 'Please find attached our bill {bill} for {matter}. {open} is due on {due}.', 'You can pay it by card or from your bank account here: {link}', 'Sincerely,\n{firm}'), // prettier-ignore
    es: words('Factura {bill} de {firm}', 'Estimado/a {payer}:', 'Adjuntamos nuestra factura {bill} relativa a {matter}. El importe de {open} vence el {due}.', 'Puede pagarla con tarjeta o desde su cuenta bancaria aquí: {link}', 'Atentamente,\n{firm}'), // prettier-ignore
  },
  'reminder 1': {
    en: words('A reminder of bill {bill}', 'Dear {payer},', 'Our bill {bill} for {matter} was due on {due}; {open} is still open. Please pay it, or tell us if something about it is unclear. If you have paid meanwhile, thank you.', 'You can pay it here: {link}', 'Sincerely,\n{firm}'), // prettier-ignore
    es: words('Recordatorio de la factura {bill}', 'Estimado/a {payer}:', 'Nuestra factura {bill} relativa a {matter} venció el {due}; queda pendiente {open}. Le rogamos que la pague o nos indique si algo no está claro. Si ya ha pagado, gracias.', 'Puede pagarla aquí: {link}', 'Atentamente,\n{firm}'), // prettier-ignore
  },
  'reminder 2': {
    en: words('Bill {bill} is overdue', 'Dear {payer},', 'We wrote to you about our bill {bill} for {matter}. {open} has now been due for {days} days. Please pay it within ten days.', 'Sincerely,\n{firm}'), // prettier-ignore
    es: words('La factura {bill} está vencida', 'Estimado/a {payer}:', 'Le escribimos acerca de nuestra factura {bill} relativa a {matter}. El importe de {open} está vencido desde hace {days} días. Le rogamos que lo pague en un plazo de diez días.', 'Atentamente,\n{firm}'), // prettier-ignore
  },
  'reminder 3': {
    en: words('Last reminder of bill {bill}', 'Dear {payer},', 'Our bill {bill} for {matter} has been due for {days} days, and {open} is unpaid despite our letters. If it is not paid within seven days, we shall have to consider what else to do, which may include ending our work.', 'Sincerely,\n{firm}'), // prettier-ignore
    es: words('Último recordatorio de la factura {bill}', 'Estimado/a {payer}:', 'Nuestra factura {bill} relativa a {matter} está vencida desde hace {days} días, y {open} sigue sin pagarse pese a nuestras cartas. Si no se paga en siete días, tendremos que considerar otras medidas, entre ellas poner fin a nuestro trabajo.', 'Atentamente,\n{firm}'), // prettier-ignore
  },
  statement: {
    en: words('Statement of account from {firm}', 'Dear {payer},', 'Please find attached the statement of your account to {due}. {open} is open.', 'Sincerely,\n{firm}'), // prettier-ignore
    es: words('Estado de cuenta de {firm}', 'Estimado/a {payer}:', 'Adjuntamos el estado de su cuenta al {due}. Queda pendiente {open}.', 'Atentamente,\n{firm}'), // prettier-ignore
  },
  receipt: {
    en: words('Receipt from {firm}', 'Dear {payer},', 'Thank you for your payment of {amount} of {due}. The receipt is attached.', 'Sincerely,\n{firm}'), // prettier-ignore
    es: words('Recibo de {firm}', 'Estimado/a {payer}:', 'Gracias por su pago de {amount} del {due}. Adjuntamos el recibo.', 'Atentamente,\n{firm}'), // prettier-ignore
  },
}

/** What is wrong with the words of a letter: fields in braces that there are not; null where nothing is. */
export function letterFault(text: string): string | null {
  const unknown = [...text.slice(0, 20_000).matchAll(/\{([^{}]*)\}/g)]
    .map((m) => m[1]!)
    .find((f) => !(billLetterFields as readonly string[]).includes(f.trim()))
  return unknown === undefined
    ? null
    : `There is no field {${unknown.slice(0, 40)}}. There are ${billLetterFields.map((f) => `{${f}}`).join(', ')}`
}
/** A letter with its fields put in; what a field holds is never read as one. */
export const letterWith = (words: LetterWords, values: Partial<Record<BillLetterField, string>>): LetterWords => {
  const fill = (text: string) => text.replaceAll(/\{\s*([a-z]+)\s*\}/g, (whole, field: string) => values[field as BillLetterField] ?? whole)
  return { subject: fill(words.subject), body: fill(words.body) }
}

/** Whether a letter has a place for a link to pay. */
export const asksForLink = (words: LetterWords): boolean => /\{\s*link\s*\}/.test(words.subject + words.body)
/** A letter with its link put in; where there is none to give, the paragraph that would have had it is left out. */
export const withLink = (words: LetterWords, link: string): LetterWords => {
  const { subject, body } = link ? words : { subject: words.subject, body: words.body.split(/\n{2,}/).filter((p) => !asksForLink({ subject: '', body: p })).join('\n\n') } // prettier-ignore
  return letterWith({ subject, body }, { link })
}

/** The language of a contact's letters: Spanish where it says so, else English. */
export const languageOf = (said: string): 'en' | 'es' => (/^(es\b|span|espa)/i.test(said.trim()) ? 'es' : 'en')

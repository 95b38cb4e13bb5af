import type { Day } from '../calendar'
import { sum, type Cents } from '../money'

/** What stands on a bill in each language besides names, texts and figures. `{}` takes what is put in. */
export const billWords = {
  en: {
    bill: 'Bill {}', due: 'Due {}', matter: 'Matter {}', workTo: 'work to {}', date: 'Date', who: 'Who', work: 'Work', hours: 'Hours', rate: 'Rate', amount: 'Amount', costs: 'Costs', fees: 'Fees', discount: 'Discount on fees', tax: 'Tax', thisBill: 'This bill', noCharge: 'no charge', included: 'included', paid: 'paid {}',
    part: 'Your part, {}, of a bill of {}. Hours and rates are those of the whole work, amounts are your part.', summary: 'By person', held: 'Held for you in trust on {}', slip: 'Please return this part with your payment', payer: 'From', toPay: 'To be paid', paidHere: 'Enclosed', page: 'page {page} of {pages}', others: 'Fees of set amounts', otherWork: 'Other work',
  },
  es: {
    bill: 'Factura {}', due: 'Vence el {}', matter: 'Asunto {}', workTo: 'trabajo hasta el {}', date: 'Fecha', who: 'Quién', work: 'Trabajo', hours: 'Horas', rate: 'Tarifa', amount: 'Importe', costs: 'Gastos', fees: 'Honorarios', discount: 'Descuento en honorarios', tax: 'Impuesto', thisBill: 'Esta factura', noCharge: 'sin cargo', included: 'incluido', paid: 'pagado {}',
    part: 'Su parte, {}, de una factura de {}. Las horas y tarifas son las de todo el trabajo; los importes son su parte.', summary: 'Por persona', held: 'En fideicomiso a su favor el {}', slip: 'Devuelva este talón con su pago', payer: 'De', toPay: 'Por pagar', paidHere: 'Adjunto', page: 'página {page} de {pages}', others: 'Honorarios fijos', otherWork: 'Otros trabajos',
  },
} as const // prettier-ignore
export type BillLanguage = keyof typeof billWords

/** A word of a bill with what belongs into it, in order. */
export const billWord = (words: string, ...into: string[]): string => into.reduce((w, x) => w.replace('{}', () => x), words)

const months = ['enero', 'febrero', 'marzo', 'abril', 'mayo', 'junio', 'julio', 'agosto', 'septiembre', 'octubre', 'noviembre', 'diciembre']
/** A day as Spanish letters write it: *23 de noviembre de 2026*. */
export const dayInSpanish = (day: Day): string => `${Number(day.slice(8))} de ${months[Number(day.slice(5, 7)) - 1]} de ${day.slice(0, 4)}`

export interface SummedLine {
  readonly timekeeper: string
  readonly minutes: number | null
  readonly charged: Cents
  readonly noCharge: boolean
}
/** Hours and charged amounts of fee lines by person, in the order in which they first appear; what nobody worked comes last. */
export function byPerson(lines: readonly SummedLine[]): { timekeeper: string; minutes: number; amount: Cents }[] {
  const names = [...new Set(lines.map((l) => l.timekeeper))].sort((a, b) => Number(a === '') - Number(b === ''))
  return names.map((timekeeper) => {
    const own = lines.filter((l) => l.timekeeper === timekeeper)
    return { timekeeper, minutes: sum(own.map((l) => l.minutes ?? 0)), amount: sum(own.map((l) => (l.noCharge ? 0 : l.charged))) }
  })
}

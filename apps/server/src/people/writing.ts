import { isDay } from '@heron/core/calendar'
import { normalizeReach } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { may, type Ctx } from '../platform/context'
import { fieldFault, Problem } from '../platform/problem'
import { Contact } from './entities'
import { requireContact } from './contact-queries'
import { addReach, changeReach } from './queries'

type Write = (m: EntityManager, ctx: Ctx, at: { clientId: number }, text: string) => Promise<void>

/** Writes one thing of a contact, as an answer given while a paper was made. The first address, e-mail or phone is the one meant. */
function writes(
  column: 'address' | 'email' | 'phone' | 'greeting' | 'language' | 'pronouns' | 'birthDate',
  most: number,
  what: string,
  reach?: 'address' | 'e-mail' | 'phone',
): Write {
  return async (m, ctx, { clientId }, text) => {
    if (!may(ctx.actor, 'people.change'))
      throw new Problem(403, 'not-allowed', 'Your role does not change people. Keep the answer for this paper alone.')
    const contact = await requireContact(m, ctx, clientId, true)
    if (text.length > most) throw fieldFault(`client.${column}`, `Keep it under ${most} characters`)
    if (column === 'birthDate' && !isDay(text)) throw fieldFault('client.born_on', 'Give a date that exists')
    if (column === 'email' && !/^[^\s@]{1,64}@[^\s@]{1,120}$/.test(text))
      throw fieldFault('client.email', 'Give an e-mail address like name@example.com')
    await m.update(Contact, clientId, { [column]: text, version: contact.version + 1 })
    if (reach) {
      const normalized = normalizeReach(reach, text).slice(0, 190)
      const changed = await changeReach(m, text, normalized, clientId, reach)
      if (!changed) await addReach(m, clientId, reach, text, normalized)
    }
    await audit(m, ctx, { kind: 'changed', text: `${what} of ${contact.name} from a paper`, subject: 'contact', subjectId: clientId })
  }
}

export const contactWrites: Record<string, Write> = {
  'client.address': writes('address', 400, 'Address', 'address'),
  'client.email': writes('email', 190, 'E-mail', 'e-mail'),
  'client.phone': writes('phone', 40, 'Phone', 'phone'),
  'client.greeting': writes('greeting', 120, 'Greeting'),
  'client.language': writes('language', 20, 'Language'),
  'client.pronouns': writes('pronouns', 40, 'Pronouns'),
  'client.born_on': writes('birthDate', 10, 'Date of birth'),
}

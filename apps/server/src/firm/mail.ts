import type { MailIn } from '@heron/contract'
import { randomUUID } from 'node:crypto'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { fieldFault } from '../platform/problem'
import { Firm, UserAccount } from '../platform/shared-entities'
import { lockedMail } from './queries'

export function changeMail(ctx: Ctx, input: MailIn): Promise<void> {
  return work(ctx, async (m) => {
    if (input.host && !input.address) throw fieldFault('address', 'Give the address from which letters come')
    const { name, address, filing, host, port, security, user, password } = input
    // Whoever names another server or user gives the password anew: the one that is kept goes nowhere else.
    const was = await lockedMail(m)
    const kept = was!.host === host && was!.user === user ? was!.password : ''
    await m.updateAll(Firm, {
      mailName: name,
      mailAddress: address,
      filingAddress: filing,
      mailHost: host,
      mailPort: port,
      mailSecurity: security,
      mailUser: user,
      mailPassword: password ?? kept,
    })
    await audit(m, ctx, {
      kind: 'set up',
      text: `Letters go out from ${address || 'the usual address'} by ${host || 'the server on this machine'}`,
      subject: 'firm',
      subjectId: 1,
      detail: { became: { name, address, filing, host, port, security, user } },
    })
  })
}

/** A letter to whoever asks for it, which waits or fails like any other. */
export function tryMail(ctx: Ctx): Promise<{ to: string }> {
  return work(ctx, async (m) => {
    const who = await m.findOne(UserAccount, { select: { email: true, id: true }, where: { id: ctx.actor.id } })
    await sendMail(m, ctx, {
      key: `try ${randomUUID()}`,
      to: ctx.actor.id,
      subject: 'Letters go out',
      body: 'This letter was asked for under Set-up, Letters. If you read it, letters go out as they should.',
    })
    return { to: who!.email }
  })
}

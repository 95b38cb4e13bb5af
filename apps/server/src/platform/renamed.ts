import type { EntityManager } from 'typeorm'

type Listener = (m: EntityManager, contactId: number) => Promise<void>
const listeners: Listener[] = []

/** Says what else has to follow when a contact gets another name: other areas keep words of it. */
export const onContactRenamed = (listener: Listener) => void listeners.push(listener)

/** Lets everything follow, in the transaction that renamed the contact. */
export async function contactRenamed(m: EntityManager, contactId: number): Promise<void> {
  for (const listener of listeners) await listener(m, contactId)
}

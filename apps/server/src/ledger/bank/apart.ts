import type { EntityManager } from 'typeorm'
import { notFound } from '../../platform/problem'
import { threadPool } from '../../platform/threads'
import { bankHead, type BankHead } from './queries'
import type { BankTasks } from './thread'

export const apart = threadPool<BankTasks>({
  module: new URL('./thread.ts', import.meta.url),
  atOnce: 1,
  mostWaiting: 50,
  longestMs: () => 60_000,
  memoryMb: 1024,
  lost: 'This file takes too much to read. Take a shorter span from the bank.',
  full: 'Several statements are being read just now. Try again in a moment.',
})

export async function requireBank(m: EntityManager, id: number): Promise<BankHead> {
  const bank = await bankHead(m, id)
  if (!bank) throw notFound('bank account')
  return bank
}

import { threadPool } from '../../platform/threads'
import type { Tasks } from './work'

/** Files of people are read and papers made on threads of their own, so that none of it holds a request up, however it is built. */
export const apart = threadPool<Tasks>({
  module: new URL('./thread.ts', import.meta.url),
  atOnce: 2,
  mostWaiting: 500,
  // Words of a large file may take their time; what someone waits for must not keep a thread from others.
  longestMs: (name) => (name === 'words' || name === 'mail' ? 30_000 : 12_000),
  memoryMb: 1024,
  lost: 'This file takes too much to read. It is kept as it is.',
  full: 'Very many papers are being read just now. Try again in a moment.',
})

import { z } from 'zod'

const schema = z.object({
  HERON_PORT: z.coerce.number().default(4600),
  HERON_DB_PORT: z.coerce.number(),
  /** The socket of a database on this machine: each statement comes and goes quicker by it than by the port. */
  HERON_DB_SOCKET: z.string().optional(),
  HERON_DB_USER: z.string().default('heron_app'),
  HERON_DB_PASSWORD: z.string(),
  HERON_DB_NAME: z.string().default('heron'),
  HERON_FILES: z.string(),
  HERON_WEB: z.string().optional(),
  /** Under which address people reach the server, for links in letters. */
  HERON_URL: z.url().optional(),
  /** A fixed day for tests; the clock goes on from it. */
  HERON_TODAY: z.string().optional(),
  HERON_LOG: z.enum(['silent', 'info', 'warn', 'error']).default('info'),
  /** Port of the mail server on this machine; without one, letters wait. */
  HERON_SMTP_PORT: z.coerce.number().optional(),
  HERON_POOL: z.coerce.number().default(12),
  /** Proxies before the server: how many, or their addresses with commas between (as Express takes them). */
  HERON_PROXIES: z.string().optional(),
  /** Requests of one address in a minute; an office shares one. */
  HERON_REQUESTS_PER_MINUTE: z.coerce.number().default(6000),
  /** What the mail server says when it hands over letters to the address for filing. */
  /** Where the card processor’s pages are, and the secret by which it and the firm know one another. */
  HERON_CARD_URL: z.url().optional(),
  HERON_CARD_SECRET: z.string().min(12).optional(),
  HERON_FILING_SECRET: z.string().min(12).optional(),
})
export type Config = ReturnType<typeof readConfig>

/** Settings of the server from its environment. Throws with the name of what is missing. */
export function readConfig(env: NodeJS.ProcessEnv) {
  const c = schema.parse(env)
  return {
    port: c.HERON_PORT,
    db: {
      port: c.HERON_DB_PORT,
      ...(c.HERON_DB_SOCKET ? { socket: c.HERON_DB_SOCKET } : {}),
      user: c.HERON_DB_USER,
      password: c.HERON_DB_PASSWORD,
      name: c.HERON_DB_NAME,
      pool: c.HERON_POOL,
    },
    files: c.HERON_FILES,
    web: c.HERON_WEB,
    url: c.HERON_URL,
    today: c.HERON_TODAY,
    log: c.HERON_LOG,
    smtp: c.HERON_SMTP_PORT,
    processor: c.HERON_CARD_URL && c.HERON_CARD_SECRET ? { url: c.HERON_CARD_URL, secret: c.HERON_CARD_SECRET } : null,
    http: {
      perMinute: c.HERON_REQUESTS_PER_MINUTE,
      ...(c.HERON_FILING_SECRET ? { filingSecret: c.HERON_FILING_SECRET } : {}),
      ...(c.HERON_PROXIES ? { proxies: /^\d+$/.test(c.HERON_PROXIES) ? Number(c.HERON_PROXIES) : c.HERON_PROXIES } : {}),
    },
  }
}

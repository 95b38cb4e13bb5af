import { rawWords } from '@heron/core/papers'
import { aFewTries, area, jobKind } from '../platform/area'
import { may, type Ctx } from '../platform/context'
import { mostWords } from '../platform/database'
import { paperEntities, PaperFolder, PaperLink } from './entities'
import { checkedOutHandedOver, reviewsHandedOver } from './handing'
import { waitingMail } from './filing'
import { reviewsFor } from './link-queries'
import { filingRoutes, outsideRoutes, paperRoutes, templateRoutes } from './routes'
import { makePaper, type MakeIn } from './templates/making'
import { makePreview, type Making } from './templates/preparing'
import { clearUploads } from './uploads'
import { paperRows } from './queries'
import { indexMissing, indexPaper, papersNamed } from './search'
import { makePdf, readPaper } from './viewing'
import { searchEntities } from './search/entities'
import { dropOldPreviews, dropVisits, linksOnMatter, outOnMatter, reviewsOnMatter } from './paper-queries'

declare module '../platform/area' {
  interface ActSubjects {
    paper: true
    template: true
  }
}

export const papers = area({
  name: 'papers',
  entities: [...paperEntities, ...searchEntities],
  migrations: ['0023-papers', '0024-words'].map((name) => ({ name, file: new URL(`./migrations/${name}.sql`, import.meta.url) })),
  routes: { papers: paperRoutes, filing: filingRoutes, templates: templateRoutes, outside: outsideRoutes },
  jobs: {
    'make paper': jobKind<MakeIn & { origin: string }>({ noun: 'paper', waits: aFewTries, lane: 'papers', run: makePaper }),
    'preview paper': jobKind<{ previewId: number; making: Making }>({
      noun: 'preview',
      waits: aFewTries,
      lane: 'papers',
      run: makePreview,
    }),
    'paper as pdf': jobKind<{ versionId: number }>({ noun: 'PDF', waits: aFewTries, lane: 'papers', run: makePdf }),
    'read paper': jobKind<{ paperId: number; number: number }>({ noun: 'list of words', waits: aFewTries, lane: 'words', run: readPaper }),
    'index paper': jobKind<{ paperId: number }>({ noun: 'list of words', waits: aFewTries, lane: 'words', run: indexPaper }),
  },
  schedules: [
    { name: 'bring words of papers into the index', at: '*/10 * * * *', atStart: true, run: indexMissing },
    {
      name: 'clear uploads and previews',
      at: '17 3 * * *',
      run: async (base) => {
        await clearUploads(base)
        await dropOldPreviews(base)
      },
    },
  ],
  acts: { paper: { part: 'papers', beyond: 'author' }, template: { part: null, beyond: 'papers.see' } },
  work: ['paper'],
  removeMatter: async (m, id) => {
    await dropVisits(m, id)
    await m.delete(PaperLink, { matterId: id })
    await m.delete(PaperFolder, { matterId: id })
  },
  openEnds: async (m, ctx, id) => {
    const out = await outOnMatter(m, id)
    const asked = await reviewsOnMatter(m, id)
    const links = await linksOnMatter(m, ctx, id)
    return [
      out!.n
        ? { key: 'checked-out', text: `${out!.n} ${out!.n === 1 ? 'paper is' : 'papers are'} checked out (${out!.names})`, blocks: false }
        : null,
      asked!.n ? { key: 'reviews', text: `${asked!.n} ${asked!.n === 1 ? 'draft waits' : 'drafts wait'} to be read`, blocks: false } : null,
      links!.n
        ? {
            key: 'links',
            text: `${links!.n} ${links!.n === 1 ? 'link' : 'links'} for people outside ${links!.n === 1 ? 'is' : 'are'} open`,
            blocks: false,
          }
        : null,
    ]
  },
  handsOver: [checkedOutHandedOver, reviewsHandedOver],
  find: async (ctx, term) =>
    may(ctx.actor, 'papers.see')
      ? (await paperRows(ctx.db.manager, ctx, await papersNamed(ctx, rawWords(term).slice(0, mostWords), 4))).map((p) => ({
          kind: 'paper' as const,
          id: p.id,
          title: p.name,
          hint: p.matter,
        }))
      : [],
  waiting: async (ctx: Ctx) => ({
    mail: may(ctx.actor, 'papers.change') ? await waitingMail(ctx) : 0,
    reviews: may(ctx.actor, 'papers.see') ? (await reviewsFor(ctx)).length : 0,
  }),
})

import { showRateOrigin } from '@heron/core/time'
import { done, routes } from '../platform/routes'
import { correctTime, reverseTime, splitTime, writeOffTime } from './corrections'
import { timeFile } from './list'
import { allTime, timeSums } from './list-queries'
import { previewRates, rateAnew } from './rate-anew'
import { activities, timeOf, timeOfMatter, dayAtWork, missingDays, timersOf } from './queries'
import { changeTime, postTime, quote, recordTime, removeTime } from './service'
import { setPhrases, setTimeFields } from './set-up'
import { phrasesOf, timeSetUp, knownWords, allRates, clientTerms } from './set-up-queries'
import { addWord, setWords } from './spelling'
import { ownFieldsOf } from './own-fields'
import { changeClientTerms, changeMatterTerms, matterTerms } from './terms'
import { dropTimer, runTimer, setTimer, startTimer, stopTimer } from './timers'

const t = routes.time
export const timeRoutes = {
  list: t.list.handler(({ context, input }) => timeOf(context.ctx, input.from, input.to)),
  all: t.all.handler(({ context, input }) => allTime(context.ctx, input)),
  sums: t.sums.handler(({ context, input }) => timeSums(context.ctx, input)),
  file: t.file.handler(({ context, input }) => timeFile(context.ctx, input)),
  ofMatter: t.ofMatter.handler(({ context, input }) => timeOfMatter(context.ctx, input.id, input.unbilled === 'yes')),
  matterTerms: t.matterTerms.handler(({ context, input }) => matterTerms(context.ctx, input.id)),
  changeMatterTerms: t.changeMatterTerms.handler(({ context, input: { id, ...own } }) => done(changeMatterTerms(context.ctx, id, own))),
  previewRates: t.previewRates.handler(({ context, input }) => previewRates(context.ctx, input)),
  rateAnew: t.rateAnew.handler(({ context, input: { seen, ...of } }) => rateAnew(context.ctx, of, seen)),
  rates: t.rates.handler(({ context, input }) => allRates(context.ctx, input)),
  clientTerms: t.clientTerms.handler(({ context, input }) => clientTerms(context.ctx, input.id)),
  changeClientTerms: t.changeClientTerms.handler(({ context, input: { id, ...own } }) => done(changeClientTerms(context.ctx, id, own))),
  activities: t.activities.handler(({ context }) => activities(context.ctx)),
  quote: t.quote.handler(async ({ context, input }) => {
    const q = await quote(context.ctx, input)
    return { ...q, origin: showRateOrigin(q.origin) }
  }),
  fields: t.fields.handler(({ context }) => timeSetUp(context.ctx.db.manager)),
  ownFields: t.ownFields.handler(({ context, input }) => ownFieldsOf(context.ctx, input.id)),
  setFields: t.setFields.handler(({ context, input }) => done(setTimeFields(context.ctx, input))),
  missing: t.missing.handler(({ context }) => missingDays(context.ctx)),
  atWork: t.atWork.handler(({ context, input }) => dayAtWork(context.ctx, input.day)),
  phrases: t.phrases.handler(({ context }) => phrasesOf(context.ctx)),
  setPhrases: t.setPhrases.handler(({ context, input }) => done(setPhrases(context.ctx, input))),
  spelling: t.spelling.handler(({ context, input }) => knownWords(context.ctx, input.matterId)),
  addWord: t.addWord.handler(({ context, input }) => done(addWord(context.ctx, input.word))),
  setWords: t.setWords.handler(({ context, input }) => done(setWords(context.ctx, input.words))),
  record: t.record.handler(({ context, input }) => recordTime(context.ctx, input)),
  change: t.change.handler(({ context, input: { id, ...entry } }) => done(changeTime(context.ctx, id, entry))),
  remove: t.remove.handler(({ context, input }) => done(removeTime(context.ctx, input.id))),
  post: t.post.handler(({ context, input }) => postTime(context.ctx, input.ids)),
  reverse: t.reverse.handler(({ context, input: { id, ...own } }) => reverseTime(context.ctx, id, own)),
  correct: t.correct.handler(({ context, input: { id, ...own } }) => done(correctTime(context.ctx, id, own))),
  split: t.split.handler(({ context, input: { id, ...own } }) => splitTime(context.ctx, id, own)),
  writeOff: t.writeOff.handler(({ context, input }) => writeOffTime(context.ctx, input)),
  timers: t.timers.handler(({ context }) => timersOf(context.ctx)),
  startTimer: t.startTimer.handler(({ context, input }) => startTimer(context.ctx, input)),
  runTimer: t.runTimer.handler(({ context, input }) => done(runTimer(context.ctx, input.id, input.running))),
  setTimer: t.setTimer.handler(({ context, input: { id, ...hours } }) => done(setTimer(context.ctx, id, hours))),
  stopTimer: t.stopTimer.handler(({ context, input: { id, ...entry } }) => stopTimer(context.ctx, id, entry)),
  dropTimer: t.dropTimer.handler(({ context, input }) => done(dropTimer(context.ctx, input.id))),
}

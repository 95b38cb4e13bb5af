import { done, routes } from '../platform/routes'
import { changeNote, choose, makeNote, makeTopic, mentionSeen, notesOf, noticesSeen, removeNote, topic } from './service'
import { choices, mentionable, mentions, notices, topicsOf, viewsOf } from './queries'
import { removeView, saveView } from './views'

const n = routes.notes
export const noteRoutes = {
  list: n.list.handler(({ context, input }) => notesOf(context.ctx, input)),
  make: n.make.handler(({ context, input }) => makeNote(context.ctx, input)),
  change: n.change.handler(({ context, input }) => done(changeNote(context.ctx, input.id, input.html))),
  remove: n.remove.handler(({ context, input }) => done(removeNote(context.ctx, input.id))),
  topics: n.topics.handler(({ context, input }) => topicsOf(context.ctx, input.id)),
  topic: n.topic.handler(({ context, input }) => topic(context.ctx, input.id, input.before)),
  makeTopic: n.makeTopic.handler(({ context, input }) => makeTopic(context.ctx, input.id, input.title, input.html)),
  people: n.people.handler(({ context, input }) => mentionable(context.ctx, input)),
  mentions: n.mentions.handler(({ context }) => mentions(context.ctx)),
  seen: n.seen.handler(({ context, input }) => done(mentionSeen(context.ctx, input.id))),
  notices: n.notices.handler(({ context }) => notices(context.ctx)),
  noticesSeen: n.noticesSeen.handler(({ context, input }) => done(noticesSeen(context.ctx, input.upTo))),
  choices: n.choices.handler(({ context }) => choices(context.ctx)),
  choose: n.choose.handler(({ context, input }) => done(choose(context.ctx, input.choices))),
}

const v = routes.views
export const viewRoutes = {
  list: v.list.handler(({ context, input }) => viewsOf(context.ctx, input.list)),
  save: v.save.handler(({ context, input }) => saveView(context.ctx, input)),
  remove: v.remove.handler(({ context, input }) => done(removeView(context.ctx, input.id))),
}

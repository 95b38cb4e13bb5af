import { done, routes } from '../platform/routes'
import { changeField, changeGroup, makeField, makeGroup, orderFields, removeField } from './service'
import { fieldGroups } from './queries'

const f = routes.fields
export const fieldRoutes = {
  groups: f.groups.handler(({ context, input }) => fieldGroups(context.ctx.db.manager, input.owner)),
  makeGroup: f.makeGroup.handler(({ context, input }) => makeGroup(context.ctx, input)),
  changeGroup: f.changeGroup.handler(({ context, input: { id, ...own } }) => done(changeGroup(context.ctx, id, own))),
  makeField: f.makeField.handler(({ context, input }) => makeField(context.ctx, input)),
  changeField: f.changeField.handler(({ context, input: { id, ...own } }) => done(changeField(context.ctx, id, own))),
  order: f.order.handler(({ context, input }) => done(orderFields(context.ctx, input.groupIds, input.fieldIds))),
  removeField: f.removeField.handler(({ context, input }) => done(removeField(context.ctx, input.id))),
}

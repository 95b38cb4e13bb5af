import { jobState } from '../platform/jobs'
import { routes } from '../platform/routes'
import { arrive, fileMail, oneMail, putAside } from './filing'
import { tray } from './filing/queries'
import { readDropped, readUploaded } from './filing/reading'
import { giveCode, makeLink, openOutside, outsidePaper, sendCode, sendFromOutside, withdrawLink } from './links'
import { linksOf, reviewsFor } from './link-queries'
import {
  addFolder,
  changePaper,
  checkOut,
  compareVersions,
  makeCurrent,
  moveFolder,
  movePapers,
  onePaper,
  release,
  removeFolder,
  removePapers,
  restorePapers,
  setStandardFolders,
} from './papers'
import { folders, standardFolders } from './paper-queries'
import { papersOf } from './queries'
import { answerReview, askReview } from './review'
import { searchPapers } from './search'
import { filePaper } from './store'
import { madeFrom, requestPaper } from './templates/making'
import { preparePaper, previewFile, requestPreview } from './templates/preparing'
import {
  addTemplateFile,
  changeTemplate,
  fieldList,
  newTemplateVersion,
  oneTemplate,
  removeSet,
  retireTemplate,
  saveSet,
  setQuestions,
  setTies,
  templateFile,
  templatePages,
  templates,
} from './templates/service'
import { templateSets } from './templates/queries'
import { addPiece, keepUploads, startUpload, uploadState } from './uploads'
import { mailOf, mailPart, paperFile, paperPdf, startPdf, viewPaper, zipOf } from './viewing'

const p = routes.papers
const f = routes.filing
const t = routes.templates
const o = routes.outside
const bytes = async (file: Blob) => new Uint8Array(await file.arrayBuffer())
const ok = { ok: true as const }
const done = async (act: Promise<unknown>) => {
  await act
  return ok
}

export const paperRoutes = {
  list: p.list.handler(({ context, input }) => papersOf(context.ctx, input)),
  search: p.search.handler(({ context, input }) => searchPapers(context.ctx, input)),
  folders: p.folders.handler(({ context, input }) => folders(context.ctx, input.id)),
  addFolder: p.addFolder.handler(({ context, input }) => done(addFolder(context.ctx, input.id, input.path))),
  moveFolder: p.moveFolder.handler(({ context, input }) => moveFolder(context.ctx, input.id, input.from, input.to)),
  removeFolder: p.removeFolder.handler(({ context, input }) => done(removeFolder(context.ctx, input.id, input.path))),
  standardFolders: p.standardFolders.handler(({ context }) => standardFolders(context.ctx)),
  setStandardFolders: p.setStandardFolders.handler(({ context, input }) =>
    done(setStandardFolders(context.ctx, input.areaId, input.paths)),
  ),
  one: p.one.handler(({ context, input }) => onePaper(context.ctx, input.id)),
  change: p.change.handler(({ context, input }) => done(changePaper(context.ctx, input))),
  move: p.move.handler(({ context, input }) => movePapers(context.ctx, input.ids, input.folder)),
  remove: p.remove.handler(({ context, input }) => removePapers(context.ctx, input.ids)),
  restore: p.restore.handler(({ context, input }) => restorePapers(context.ctx, input.ids)),
  checkOut: p.checkOut.handler(({ context, input }) => done(checkOut(context.ctx, input.id, input.note))),
  release: p.release.handler(({ context, input }) => done(release(context.ctx, input.id))),
  makeCurrent: p.makeCurrent.handler(({ context, input }) => makeCurrent(context.ctx, input.id, input.number, input.why)),
  compare: p.compare.handler(({ context, input }) => compareVersions(context.ctx, input.id, input.from, input.to)),
  file: p.file.handler(async ({ context, input }) =>
    filePaper(context.ctx, { matterId: input.id, folder: input.folder, name: input.file.name, data: await bytes(input.file) }),
  ),
  download: p.download.handler(({ context, input }) => paperFile(context.ctx, input.id, input.version)),
  zip: p.zip.handler(({ context, input }) => zipOf(context.ctx, input.ids)),
  view: p.view.handler(({ context, input }) => viewPaper(context.ctx, input.id, input.version)),
  startPdf: p.startPdf.handler(({ context, input }) => startPdf(context.ctx, input.id, input.version)),
  pdf: p.pdf.handler(({ context, input }) => paperPdf(context.ctx, input.id, input.version)),
  mail: p.mail.handler(({ context, input }) => mailOf(context.ctx, input.id)),
  mailPart: p.mailPart.handler(({ context, input }) => mailPart(context.ctx, input.id, input.index)),
  job: p.job.handler(({ context, input }) => jobState(context.ctx, input.id)),
  startUpload: p.startUpload.handler(({ context, input }) => startUpload(context.ctx, input.name, input.size)),
  upload: p.upload.handler(({ context, input }) => uploadState(context.ctx, input.id)),
  piece: p.piece.handler(async ({ context, input }) => addPiece(context.ctx, input.params.id, input.query.at, input.body)),
  keepUploads: p.keepUploads.handler(({ context, input }) => keepUploads(context.ctx, input.id, input.files, input.doubles)),
  review: p.review.handler(({ context, input }) => askReview(context.ctx, input)),
  answerReview: p.answerReview.handler(({ context, input }) => done(answerReview(context.ctx, input))),
  reviews: p.reviews.handler(({ context }) => reviewsFor(context.ctx)),
  links: p.links.handler(({ context, input }) => linksOf(context.ctx, input.id)),
  makeLink: p.makeLink.handler(({ context, input }) => makeLink(context.ctx, input, context.origin)),
  withdrawLink: p.withdrawLink.handler(({ context, input }) => done(withdrawLink(context.ctx, input.id))),
}

export const filingRoutes = {
  read: f.read.handler(async ({ context, input }) => readDropped(context.ctx, await bytes(input.file))),
  fromUpload: f.fromUpload.handler(({ context, input }) => readUploaded(context.ctx, input.uploadId)),
  tray: f.tray.handler(({ context, input }) => tray(context.ctx, input)),
  one: f.one.handler(({ context, input }) => oneMail(context.ctx, input.id, input.matterId)),
  file: f.file.handler(({ context, input }) => fileMail(context.ctx, input)),
  putAside: f.putAside.handler(({ context, input }) => done(putAside(context.ctx, input.id))),
  arrive: f.arrive.handler(async ({ context, input: { file, ...rest } }) =>
    done(arrive(context.ctx, { ...rest, data: await bytes(file) })),
  ),
}

export const templateRoutes = {
  list: t.list.handler(({ context }) => templates(context.ctx)),
  one: t.one.handler(({ context, input }) => oneTemplate(context.ctx, input.id)),
  add: t.add.handler(async ({ context, input }) => addTemplateFile(context.ctx, input.name, await bytes(input.file), input.file.name)),
  change: t.change.handler(({ context, input }) => done(changeTemplate(context.ctx, input))),
  newVersion: t.newVersion.handler(async ({ context, input }) =>
    newTemplateVersion(context.ctx, input.id, input.why, await bytes(input.file), input.file.name),
  ),
  setQuestions: t.setQuestions.handler(({ context, input }) => done(setQuestions(context.ctx, input))),
  setTies: t.setTies.handler(({ context, input }) => done(setTies(context.ctx, input))),
  retire: t.retire.handler(({ context, input }) => done(retireTemplate(context.ctx, input.id, input.retired))),
  download: t.download.handler(({ context, input }) => templateFile(context.ctx, input.id, input.version)),
  page: t.page.handler(({ context, input }) => templatePages(context.ctx, input.id)),
  fields: t.fields.handler(({ context, input }) => fieldList(context.ctx, input.matterId)),
  sets: t.sets.handler(({ context }) => templateSets(context.ctx)),
  saveSet: t.saveSet.handler(({ context, input }) => saveSet(context.ctx, input)),
  removeSet: t.removeSet.handler(({ context, input }) => done(removeSet(context.ctx, input.id))),
  prepare: t.prepare.handler(({ context, input }) => preparePaper(context.ctx, input)),
  preview: t.preview.handler(({ context, input }) => requestPreview(context.ctx, input)),
  previewFile: t.previewFile.handler(({ context, input }) => previewFile(context.ctx, input.id)),
  make: t.make.handler(({ context, input }) => requestPaper(context.ctx, input, context.origin)),
  made: t.made.handler(({ context, input }) => madeFrom(context.ctx, input.id)),
}

export const outsideRoutes = {
  open: o.open.handler(({ context, input }) => openOutside(context.ctx, input.token, input.pass, context.address)),
  sendCode: o.sendCode.handler(({ context, input }) => done(sendCode(context.ctx, input.token))),
  code: o.code.handler(({ context, input }) => giveCode(context.ctx, input.token, input.code)),
  paper: o.paper.handler(({ context, input }) => outsidePaper(context.ctx, input.token, input.id, input.pass, context.address)),
  send: o.send.handler(async ({ context, input }) =>
    done(sendFromOutside(context.ctx, input.token, input.pass, input.file.name, await bytes(input.file), context.address)),
  ),
}

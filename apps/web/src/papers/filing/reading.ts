import { api } from '../../api'
import { sendPiece } from '../pieces'

const most = 4_000_000

/** Hands an e-mail to the server to be read; a large one goes in pieces. Tells by which number it waits to be filed. */
export async function readMail(file: File): Promise<number> {
  if (file.size <= most) return (await api.filing.read({ file })).id
  const { id } = await api.papers.startUpload({ name: file.name.slice(0, 200), size: file.size })
  let at = 0
  for (let whole = false; !whole;) {
    const sent = await sendPiece(id, file, at)
    at = sent.received
    whole = sent.whole
  }
  return (await api.filing.fromUpload({ uploadId: id })).id
}

/** Whether a file is an e-mail, by its name or kind. */
export const isMail = (file: { name: string; type: string }) => file.type === 'message/rfc822' || file.name.toLowerCase().endsWith('.eml')

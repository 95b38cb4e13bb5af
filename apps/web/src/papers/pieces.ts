import { api } from '../api'

const pieceSize = 4_000_000

/** Sends the piece of a file that begins at a byte of it. */
export const sendPiece = (id: number, file: File, at: number) =>
  api.papers.piece({
    params: { id },
    query: { at },
    body: new File([file.slice(at, at + pieceSize)], 'piece', { type: 'application/octet-stream' }),
  })

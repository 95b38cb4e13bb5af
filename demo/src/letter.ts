import { AlignmentType, Document, Packer, Paragraph, Table, TableCell, TableRow, TextRun, WidthType } from 'docx'

const p = (text: string, more: { bold?: boolean; after?: number; size?: number } = {}) =>
  new Paragraph({
    spacing: { after: more.after ?? 140 },
    children: text
      .split('\n')
      .map(
        (t, i) =>
          new TextRun({ text: t, bold: more.bold ?? false, size: more.size ?? 22, font: 'Liberation Serif', ...(i ? { break: 1 } : {}) }),
      ),
  })
const cell = (text: string, right = false) =>
  new TableCell({
    children: [
      new Paragraph({
        alignment: right ? AlignmentType.RIGHT : AlignmentType.LEFT,
        children: [new TextRun({ text, size: 21, font: 'Liberation Serif' })],
      }),
    ],
  })

/** The firm's engagement letter: fields, one condition (hourly or flat fee), one list (the team with rates). */
export async function engagementLetter(): Promise<Uint8Array> {
  const document = new Document({
    creator: 'Calloway Fenn LLP',
    title: 'Engagement letter',
    sections: [
      {
        properties: { page: { size: { width: 12240, height: 15840 }, margin: { top: 1300, bottom: 1300, left: 1400, right: 1400 } } },
        children: [
          p('{firm_name}', { bold: true, size: 30, after: 20 }),
          p('{firm_address}', { after: 320, size: 18 }),
          p('{today}', { after: 260 }),
          p('{client_name}', { after: 0 }),
          p('{client_address}', { after: 260 }),
          p('Engagement: {matter_name} ({matter_number})', { bold: true }),
          p('Dear {client_greeting}:'),
          p(
            'Thank you for asking {firm_name} to act for you. This letter sets out what we will do and on what terms. We are engaged for {matter_description}. {lead_lawyer} answers to you for this matter.',
          ),
          p('{#hourly}'),
          p('We charge by the hour, in tenths of an hour, at the rates below. Rates may change once a year; we tell you before they do.'),
          new Table({
            width: { size: 100, type: WidthType.PERCENTAGE },
            rows: [
              new TableRow({ tableHeader: true, children: [cell('Who'), cell('Position'), cell('An hour', true)] }),
              new TableRow({ children: [cell('{#team}{name}'), cell('{role}'), cell('{rate}{/team}', true)] }),
            ],
          }),
          p('{/hourly}'),
          p('{^hourly}'),
          p('We do this work for a flat fee of {flat_fee}, whatever time it takes. The following people will work on it:'),
          p('{#team}'),
          p('{name}, {role}', { after: 40 }),
          p('{/team}'),
          p('{/hourly}'),
          p(
            'Before we begin we ask for a deposit of {deposit} into our client trust account. It remains your money until a bill is issued to you, and what is left is returned when the matter ends.',
          ),
          p('Costs that we pay for you, such as filing fees and reporters, are billed at what they cost us. Bills are due within 30 days.'),
          p(
            'You may end this engagement at any time, as may we within the rules that bind us. If you agree, please sign below and return this letter.',
          ),
          p('Yours sincerely,', { after: 500 }),
          p('{lead_lawyer}\n{firm_name}', { after: 400 }),
          p('Agreed: ________________________    Date: ______________\n{client_name}'),
        ],
      },
    ],
  })
  return new Uint8Array(await Packer.toBuffer(document))
}

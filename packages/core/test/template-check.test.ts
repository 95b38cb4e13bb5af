import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkTemplate, fieldTree, plain } from '@heron/core/templates'
import { docx, field, made, p, row, table, values } from './docx'

describe('the check', () => {
  const tree = fieldTree({
    client: [
      { name: 'vessel', label: 'Vessel', type: 'text' },
      { name: 'loss', label: 'Loss', type: 'money' },
    ],
    matter: [],
    answers: [{ name: 'tone', label: 'Tone', type: 'text', choices: ['measured', 'firm', 'final'] }],
  })
  const faults = (...texts: string[]) => checkTemplate(docx(texts.map((t) => p(t)).join('')), tree).faults
  it('passes what is right and says what is used', () => {
    const found = checkTemplate(
      docx(
        [
          p('{client.name | capitals} {client.fields.loss | money} {if answers.tone = "firm"}x{else}y{end}'),
          p('{for each x in parties}{x.name}{x.counsel.name}{number}{end for}'),
        ].join(''),
      ),
      tree,
    )
    expect(found.faults).toEqual([])
    expect(found.uses).toEqual(['client.name', 'client.fields.loss', 'answers.tone', 'parties'])
  })
  it('knows the names that templates used before', () => {
    const found = checkTemplate(
      docx(p('Dear {client_name}: {#hourly}{#team}{name} {rate}{/team}{/hourly}{^hourly}{flat_fee}{/hourly}')),
      tree,
    )
    expect(found.faults).toEqual([])
    expect(found.uses).toEqual(['client.name', 'matter.hourly', 'team', 'matter.flat_fee'])
  })
  it.each<[string, RegExp]>([
    ['Dear {client.nmae},', /no field client\.nmae\. Did you mean client\.name/],
    ['{client.fields.vesel}', /Did you mean client\.fields\.vessel/],
    ['{matter_numbr}', /Did you mean matter\.number|Did you mean matter_number/],
    ['{if client.is_person}never closed', /opened and not closed/],
    ['closed {end if} only', /without an if or for each/],
    ['{else}', /outside of any if/],
    ['{client.name', /opened and not closed/],
    ['client.name}', /closed and was not opened/],
    ['{if client.name = "Gan}x{end}', /quote is opened and not closed/],
    ['{if client.fields.loss > "much"}x{end}', /An amount cannot be compared with “much”/],
    ['{if matter.opened_on < "soon"}x{end}', /A date cannot be compared/],
    ['{if client.is_person = 3}x{end}', /A yes or no cannot be compared/],
    ['{if parties = "Ada"}x{end}', /list/],
    ['{if answers.tone = "frim"}x{end}', /Did you mean “firm”/],
    ['{client.name | long date}', /long date is for a date/],
    ['{client.name | captials}', /Did you mean capitals/],
    ['{for each x in client.name}x{end}', /is not a list/],
    ['{for each x parties}x{end}', /for each party in parties/],
    ['{parties.name}', /is a list\. Go through it/],
    ['{if client.name == }x{end}', /cannot be read/],
    ['{for each x in parties}{if x.served}{end for}{end if}', /ends a for each|does not end/],
    ['{if a}{x}', /./],
  ])('%s', (text, says) => {
    const found = faults('Before.', text, 'After.')
    expect(found.map((f) => f.text).join('\n')).toMatch(says)
    expect(found[0]!.words).toBe(text)
  })
  it('tells merge fields of Word that are tied to nothing', () => {
    const zip = docx(p(field([' MERGEFIELD ClientName '])) + p(field([' MERGEFIELD Strange_Thing '])))
    const found = checkTemplate(zip, tree)
    expect(found.wordFields).toEqual([
      { name: 'ClientName', tied: 'client.name' },
      { name: 'Strange_Thing', tied: null },
    ])
    expect(found.faults).toHaveLength(1)
    expect(checkTemplate(zip, tree, { Strange_Thing: 'court.judge' }).faults).toEqual([])
  })
  it('never lets a template pass that then fails', () => {
    const bit = fc.constantFrom(
      '{client.name}',
      '{if client.is_person}',
      '{else}',
      '{else if matter.hourly}',
      '{end}',
      '{end if}',
      '{for each x in parties}',
      '{x.name}',
      '{end for}',
      'word',
      '{',
      '}',
      '{client.nam}',
      '{bills | list}',
      '{if "}',
      '{money.open | money in words}',
      '{today + 3}',
    )
    fc.assert(
      fc.property(
        fc.array(fc.array(bit, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 7 }),
        fc.boolean(),
        (lines, inTable) => {
          const body = inTable ? table(...lines.map((l) => row(...l))) : lines.map((l) => p(...l)).join('')
          if (checkTemplate(docx(body), tree).faults.length) return
          for (const v of [{}, values]) {
            const text = made(docx(body), { values: v }).join('\n')
            expect(text).not.toMatch(/\{(?:if|for|end|else)/)
          }
        },
      ),
      { numRuns: 400 },
    )
  })
  it('knows every field by its path', () => {
    expect(plain(values['client'])).toContain('Gannet')
  })
})

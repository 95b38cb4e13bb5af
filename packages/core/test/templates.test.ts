import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { dayValue, evaluate, formats, formatNamed, money, readExpression, wordFieldsIn, type Value } from '@heron/core/templates'
import { cell, docx, field, made, madeXml, p, row, run, table, values } from './docx'

const one = (text: string, over: Partial<Parameters<typeof made>[1]> = {}) => made(docx(p(text)), { values, ...over })[0]
const outcome = (source: string) => {
  try {
    return worth(source)
  } catch {
    return null
  }
}
const worth = (source: string): Value => evaluate(readExpression(source), { records: [values], language: 'en' })

describe('expressions', () => {
  it.each<[string, Value]>([
    ['client.name = "gannet maritime & sons <holdings>"', true],
    ['matter.stage is "Discovery" and not client.is_person', true],
    ['matter.stage is not "Trial"', true],
    ['client.fields.loss > 6000', true],
    ['client.fields.loss >= $6154', true],
    ['client.fields.loss <> 6154.00', false],
    ['matter.opened_on < “2026-06-01”', true],
    ['matter.opened_on = "March 4, 2026"', true],
    ['matter.stage in ["Discovery", "Trial"]', true],
    ['matter.stage not in ["Discovery", "Trial"]', false],
    ['"Bo Heron" in parties', true],
    ['parties.count = 3 or nonsense.of.any', true],
    ['court.judge', ''],
    ['court.judge = empty', true],
    ['not (client.is_person or matter.flat_fee)', true],
    ['client.fields.rated = yes', true],
    ['client.fields.loss > "many"', false],
  ])('%s', (source, is) => expect(worth(source)).toEqual(is))

  it('counts in cents', () => {
    expect(worth('client.fields.loss * 0.333')).toEqual(money(204928))
    expect(worth('client.fields.loss + 0.10 - $1')).toEqual(money(615310))
    expect(worth('client.fields.loss / 0')).toBeNull()
    expect(worth('client.fields.loss / 2')).toEqual(money(307700))
  })
  it('reaches nothing but fields', () => {
    for (const hostile of [
      'client.constructor.name',
      '__proto__.polluted',
      'client.__proto__',
      'client.name.length',
      'toString',
      'client.hasOwnProperty',
    ])
      expect(outcome(hostile), hostile).toBeNull()
    for (const refused of [
      'client.name()',
      'a = b = c()',
      'a[0]',
      'a ? b : c',
      'x; y',
      'this',
      '{a: 1}',
      'a || b',
      '('.repeat(60) + 'a' + ')'.repeat(60),
    ])
      expect(() => readExpression(refused), refused).toThrow()
  })
})

describe('formats', () => {
  const day = dayValue('2026-11-27')
  it.each<[string, Value, string[], string]>([
    ['long date', day, [], 'November 27, 2026'],
    ['full date', day, [], 'Friday, November 27, 2026'],
    ['short date', day, [], '11/27/2026'],
    ['legal date', dayValue('2026-11-22'), [], '22nd day of November, 2026'],
    ['money', money(615400), [], '$6,154.00'],
    ['whole money', money(615400), [], '$6,154'],
    ['money in words', money(615405), [], 'Six thousand one hundred fifty-four and 05/100 dollars'],
    ['number in words', 42, [], 'forty-two'],
    ['ordinal', 111, [], '111th'],
    ['ordinal', 22, [], '22nd'],
    ['ordinal in words', 3, [], 'third'],
    ['capitals', 'Corvane', [], 'CORVANE'],
    ['title case', 'MOTION TO COMPEL', [], 'Motion to Compel'],
    ['possessive', 'Harris', [], 'Harris’'],
    ['possessive', 'Corvane', [], 'Corvane’s'],
    ['address in one line', '12 Quay\n\n Port Alder ', [], '12 Quay, Port Alder'],
    ['list', ['Ann', 'Bo', 'Cy'], ['and'], 'Ann, Bo, and Cy'],
    ['list', ['Ann', '', 'Bo'], ['or'], 'Ann or Bo'],
    ['plural', ['x'], ['child', 'children'], 'child'],
    ['plural', 0, ['child', 'children'], 'children'],
    ['yes or no', true, ['served', 'unserved'], 'served'],
    ['otherwise', '', ['the Court'], 'the Court'],
    ['initials', 'Noor El-Amin', [], 'N.E.A.'],
  ])('%s of %o', (name, v, args, is) => expect(formatNamed(name)!.show(v, args, 'en')).toBe(is))

  it('speaks Spanish', () => {
    const es = (name: string, v: Value, args: string[] = []) => formatNamed(name)!.show(v, args, 'es')
    expect(es('long date', day)).toBe('27 de noviembre de 2026')
    expect(es('money in words', money(2100))).toBe('Veintiún dólares con 00/100')
    expect(es('money in words', money(100_000_000))).toBe('Un millón de dólares con 00/100')
    expect(es('list', ['Ana', 'Inés'])).toBe('Ana e Inés')
  })
  it('leaves alone what it cannot read, and never fails', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.string(), fc.double(), fc.integer(), fc.boolean(), fc.constant(null), fc.array(fc.string())),
        fc.array(fc.string(), { maxLength: 3 }),
        (v, args) => {
          for (const f of formats) for (const l of ['en', 'es'] as const) expect(typeof f.show(v as Value, args, l)).toBe('string')
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('papers', () => {
  it('puts values in as they are', () => {
    expect(one('Dear {client.name}, re {client.fields.vessel}')).toBe('Dear Gannet Maritime & Sons <Holdings>, re Sea {Lark}')
    expect(one('{matter.opened_on | long date}; {client.fields.loss | money in words}')).toBe(
      'March 4, 2026; Six thousand one hundred fifty-four and 00/100 dollars',
    )
    expect(one('{parties | list "and"}; {client.they | capital} {client.plural | yes or no "are" "is"}')).toBe(
      'Ada Finch, Bo Heron, and Cy Stork; It is',
    )
    fc.assert(fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), (t) => {
      const clean = [...t].map((c) => (c < ' ' || c >= '\ufffe' ? ' ' : c)).join('')
      expect(made(docx(p('[', '{x}')), { values: { x: clean } })[0]).toBe(`[${clean}`)
    }), { numRuns: 60 }) // prettier-ignore
    expect(one('{x}', { values: { x: 'one\u2028two\u0085three' } })).toBe('one\u2028two\u0085three')
    expect(one('{x}', { values: { x: 'שלום <b>&amp;</b> {y} "q"' } })).toBe('שלום <b>&amp;</b> {y} "q"')
  })
  it('reads tags that are split over runs', () => {
    expect(made(docx(p('Dear {cli', 'ent.', 'name | capi', 'tals}!')), { values })[0]).toBe('Dear GANNET MARITIME & SONS <HOLDINGS>!')
  })
  it.each([
    [true, '', 'one'],
    [false, 'b', 'two'],
    [false, 'c', 'three'],
    [false, '', 'four'],
  ])('chooses a branch within a sentence', (a, b, is) => {
    const text = '{if a}one{else if b = "b"}two{else if b = "c"}three{else}four{end if}'
    expect(one(text, { values: { a, b } })).toBe(is)
    const lines = ['{if a}', 'one', '{else if b = "b"}', 'two', '{else if b = "c"}', 'three', '{else}', 'four', '{end}']
    expect(made(docx(['before', ...lines, 'after'].map((t) => p(t)).join('')), { values: { a, b } })).toEqual(['before', is, 'after'])
  })
  it('leaves no empty paragraphs where a condition spans several', () => {
    const text = ['A', '{if a}First {x}', 'second', 'third{end if}', 'Z'].map((t) => p(t)).join('')
    expect(made(docx(text), { values: { a: false, x: '' } })).toEqual(['A', 'Z'])
    expect(made(docx(text), { values: { a: true, x: 'one' } })).toEqual(['A', 'First one', 'second', 'third', 'Z'])
  })
  it('takes whole rows in or out, and leaves none empty', () => {
    const t = (a: boolean) =>
      made(
        docx(
          table(
            row('head', 'x'),
            row('{if a}', ''),
            row('yes', '1'),
            row('{else}', ''),
            row('no', '2'),
            row('{end if}', ''),
            row('foot', '3'),
          ) + p('after'),
        ),
        { values: { a } },
      )
    expect(t(true)).toEqual(['head', 'x', 'yes', '1', 'foot', '3', 'after'])
    expect(t(false)).toEqual(['head', 'x', 'no', '2', 'foot', '3', 'after'])
  })
  it('goes through lists in rows, paragraphs and sentences', () => {
    const rows = table(row('{for each c in costs}{c.text}', '{c.amount | money}{end for}'))
    expect(made(docx(rows + p('z')), { values })).toEqual(['Filing fee', '$402.00', 'Courier', '$18.95', 'z'])
    const own = table(row('{for each c in costs}', ''), row('{number}. {c.text}', '{c.amount}'), row('{end for}', ''))
    expect(made(docx(own + p('z')), { values })).toEqual(['1. Filing fee', '$402.00', '2. Courier', '$18.95', 'z'])
    expect(one('{for each x in parties}{x.name}{if not last}, {end if}{end for}')).toBe('Ada Finch, Bo Heron, Cy Stork')
    expect(one('{for each x in parties}{if first}of {count}: {end}{if x.served}{x.name};{else}not {x.name};{end if}{end for}')).toBe(
      'of 3: Ada Finch;not Bo Heron;Cy Stork;',
    )
    expect(
      one(
        '{for each x in parties}{x.name}: {x.children | list "and"}{if x.children.count > 1} ({x.children | plural "child" "children"}){end if}. {end for}',
      ),
    ).toBe('Ada Finch: Lou. Bo Heron: . Cy Stork: Max and Mia (children). ')
    const blocks = ['{for each x in parties}', '{x.name}', '{for each k in x.children}', '- {k.name}', '{end for}', '{end for}']
      .map((t) => p(t))
      .join('')
    expect(made(docx(blocks), { values })).toEqual(['Ada Finch', '- Lou', 'Bo Heron', 'Cy Stork', '- Max', '- Mia'])
    expect(made(docx(table(row('a'), row('{for each c in none}{c.text}{end for}')) + p('z')), { values })).toEqual(['a', 'z'])
  })
  it('reaches headers, footers, footnotes and text boxes', () => {
    const zip = docx(
      p(
        `<w:r><w:pict><v:textbox xmlns:v="urn:schemas-microsoft-com:vml"><w:txbxContent>${p('{client.their}')}</w:txbxContent></v:textbox></w:pict></w:r>`,
      ),
      { header: p('{matter.number}'), footer: p('{if client.is_person}p{else}o{end}'), footnotes: p('{court.name}') },
    )
    expect(made(zip, { values }).filter(Boolean).sort()).toEqual(['2026-0042', 'Superior Court', 'its', 'o'])
  })
  it('works within links, content controls and numbered lists', () => {
    const link = `<w:hyperlink w:anchor="x">${run('{if a}yes{else}no{end}')}</w:hyperlink>`
    const control = `<w:sdt><w:sdtContent>${p('{court.name | capitals}')}</w:sdtContent></w:sdt>`
    const numbered = (t: string) => `<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr></w:pPr>${run(t)}</w:p>`
    const body = `<w:p>${link}</w:p>${control}${numbered('{for each x in parties}')}${numbered('{x.name}')}${numbered('{end for}')}${p('{IF A}caps{END IF}')}`
    expect(made(docx(body), { values: { ...values, a: false, A: true } })).toEqual([
      'no',
      'SUPERIOR COURT',
      'Ada Finch',
      'Bo Heron',
      'Cy Stork',
      'caps',
    ])
  })
  it('chooses rows within a list of rows', () => {
    const t = table(
      row('{for each x in parties}', ''),
      row('{if x.served}', ''),
      row('{x.name}', 'served'),
      row('{else}', ''),
      row('{x.name}', 'open'),
      row('{end if}', ''),
      row('{end for}', ''),
    )
    expect(made(docx(t + p('z')), { values })).toEqual(['Ada Finch', 'served', 'Bo Heron', 'open', 'Cy Stork', 'served', 'z'])
  })
  it('keeps what older templates say', () => {
    expect(
      made(docx(p('{#flag}{name} {/flag}{^flag}none{/flag}{#list}{name};{/list}')), {
        values: { flag: true, name: 'N', list: [{ name: 'a' }, { name: 'b' }] },
      }),
    ).toEqual(['N a;b;'])
  })
  it('keeps a cell that is left without words whole', () => {
    const xml = madeXml(docx(table(row(cell('{if a}', 'x', '{end if}'), 'b'))), { values: { a: false } })
    expect(xml).toMatch(/<w:tc><w:p\/?>/)
  })
})

describe('the fields of Word', () => {
  const word = (inner: string[], fields: Record<string, Value>) => made(docx(p(field(inner))), { wordField: (n) => fields[n] ?? null })[0]
  it.each<[string[], Record<string, Value>, string]>([
    [[' MERGEFIELD Client_Name '], { Client_Name: 'Gannet' }, 'Gannet'],
    [[' MERGEFIELD "Client Name" \\* Upper '], { 'Client Name': 'Gannet' }, 'GANNET'],
    [[' MERGE', 'FIELD Day \\@ "dddd, d MMMM yyyy" '], { Day: dayValue('2026-11-27') }, 'Friday, 27 November 2026'],
    [[' MERGEFIELD Day \\@ "M/d/yy" '], { Day: '2026-11-07' }, '11/7/26'],
    [[' MERGEFIELD Fee \\# "$#,##0.00" '], { Fee: money(615400) }, '$6,154.00'],
    [[' MERGEFIELD Fee \\# $#,##0.00;($#,##0.00);nil '], { Fee: money(-1205) }, '($12.05)'],
    [[' MERGEFIELD Fee \\# 0.0% '], { Fee: 33.333 }, '33.3%'],
    [[' MERGEFIELD N \\* OrdText \\* FirstCap '], { N: 3 }, 'Third'],
    [[' MERGEFIELD N \\* Roman '], { N: 1994 }, 'MCMXCIV'],
    [[' MERGEFIELD Title \\b "Dr. " \\f "," '], { Title: 'Finch' }, 'Dr. Finch,'],
    [[' MERGEFIELD Title \\b "Dr. " '], {}, ''],
    [[' IF 1 = 1 "yes" "no" '], {}, 'yes'],
    [[' IF ', field([' MERGEFIELD Sex ']), ' = "F" "her" "his" '], { Sex: 'F' }, 'her'],
    [[' IF ', field([' MERGEFIELD Sex ']), '="F" "her" "his" '], { Sex: 'M' }, 'his'],
    [[' IF ', field([' MERGEFIELD N ']), ' >= 10 "ten or more" "fewer" '], { N: '1,000' }, 'ten or more'],
    [[' IF ', field([' MERGEFIELD Place ']), ' = "Port*" "port" "inland" '], { Place: 'Port Alder' }, 'port'],
    [[' IF ', field([' MERGEFIELD Code ']), ' <> "A?C" "other" "like" '], { Code: 'ABC' }, 'like'],
    [[' IF ', field([' MERGEFIELD Mid ']), ' = "" "" "', field([' MERGEFIELD Mid ']), ' " '], { Mid: 'two words' }, 'two words '],
    [[' IF ', field([' MERGEFIELD Mid ']), ' <> "" "x" "nothing" '], {}, 'nothing'],
    [[' IF 1 = 2 "a" "', field([' IF 2 = 2 "inner ""', '" "no" ']), '" '], {}, 'inner '],
    [[' IF 1 = 1 "say \\"hi\\" \\\\ there" "no" '], {}, 'say "hi" \\ there'],
    [[' IF 1 = 2 “a” “b” '], {}, 'b'],
    [[' IF 1 = 2 "only" '], {}, ''],
    [[' IF ', field([' COMPARE ', field([' MERGEFIELD N ']), ' > 4 ']), ' = 1 "big" "small" '], { N: 5 }, 'big'],
    [[' DATE \\@ "MMMM d, yyyy" '], {}, 'November 27, 2026'],
  ])('%j', (inner, fields, is) => expect(word(inner, fields)).toBe(is))

  it('keeps the bold of a branch, and fields of other kinds', () => {
    const bold = '<w:b/>'
    const xml = madeXml(
      docx(p(field([' IF 1 = 1 "', `<w:r><w:rPr>${bold}</w:rPr><w:instrText>strong</w:instrText></w:r>`, '" "no" ']), field([' PAGE ']))),
    )
    expect(xml).toContain('<w:rPr><w:b/></w:rPr><w:t xml:space="preserve">strong</w:t>')
    expect(xml).toContain(' PAGE ')
  })
  it('leaves to the word processor what hangs on its pages, with merge fields worked out in it', () => {
    const xml = madeXml(docx(p(field([' IF ', field([' PAGE ']), ' = 1 "Dear ', field([' MERGEFIELD Who ']), '" "" ']))), {
      wordField: () => 'Ada',
    })
    expect(xml).toContain(' PAGE ')
    expect(xml).toContain('>Ada</w:instrText>')
    expect(xml).not.toContain('MERGEFIELD')
  })
  it('joins the paragraphs of a field that spans several', () => {
    const open = `<w:p>${run('A ')}<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText> IF 1 = 1 "one</w:instrText></w:r></w:p>`
    const end = `<w:p><w:r><w:instrText>two" "no" </w:instrText></w:r><w:r><w:fldChar w:fldCharType="end"/></w:r>${run(' Z')}</w:p>`
    const xml = madeXml(docx(open + end + p('next')))
    expect(xml.match(/<w:p>/g)).toHaveLength(2)
    expect(xml).toContain('<w:br/>')
  })
  it('reads simple fields, names them once, and never takes a value for a field', () => {
    const simple = `<w:p><w:fldSimple w:instr=" MERGEFIELD Who \\* Caps ">${run('«Who»')}</w:fldSimple></w:p>`
    expect(made(docx(simple), { wordField: () => 'ada finch {client.name}' })).toEqual(['Ada Finch {client.name}'])
    expect(
      wordFieldsIn(docx(simple + p(field([' IF ', field([' MERGEFIELD B ']), ' = "" "" "', field([' MERGEFIELD B ']), '" '])))).sort(),
    ).toEqual(['B', 'Who'])
  })
})

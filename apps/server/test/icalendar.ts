import { spawnSync } from 'node:child_process'
import { expect } from 'vitest'

/** What another program reads of a calendar: Debian's python3-icalendar, which shares no code with what wrote it. */
export function readByAnother(text: string): Record<string, string | number>[] {
  const script = `
import sys, json
from icalendar import Calendar
c = Calendar.from_ical(sys.stdin.buffer.read())
out = []
for e in c.walk('VEVENT'):
    out.append({'uid': str(e['UID']), 'sequence': int(e['SEQUENCE']), 'start': e['DTSTART'].dt.isoformat(), 'end': e['DTEND'].dt.isoformat(),
      'summary': str(e['SUMMARY']), 'description': str(e.get('DESCRIPTION', '')), 'place': str(e.get('LOCATION', '')), 'status': str(e['STATUS']), 'transp': str(e['TRANSP']), 'method': str(c['METHOD']),
      'attendees': ' '.join(str(a) for a in (lambda x: x if isinstance(x, list) else [x] if x else [])(e.get('ATTENDEE')))})
print(json.dumps(out))`
  const { stdout, stderr, status } = spawnSync('/usr/bin/python3', ['-c', script], { input: text })
  expect([status, String(stderr)]).toEqual([0, ''])
  return JSON.parse(String(stdout)) as Record<string, string | number>[]
}

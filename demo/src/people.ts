import { makeContact } from '@heron/server/people'
import type { Ctx } from '@heron/server/platform'

/** Organizations and people of the demo firm, all made up: name, kind, town, greeting. */
export const clients: readonly [name: string, kind: 'person' | 'organization', address: string, greeting: string][] = [
  ['Gannet Ferry Cooperative', 'organization', '3 Ferry Slip\nHarrow Sound, Wexmoor 04417', 'Ms. Odegaard'],
  ['Brinewell Oyster Co.', 'organization', '81 Tideway Road\nLower Brine, Wexmoor 04421', 'Mr. Brinewell'],
  ['Tidecrest Boatyard', 'organization', '9 Slipway Lane\nHarrow Sound, Wexmoor 04417', 'Ms. Tidecrest'],
  ['Hollin & Rye Brewing', 'organization', '40 Malthouse Street\nPort Ansel, Wexmoor 04430', 'Mr. Hollin'],
  ['Estate of Anton Varga', 'organization', 'c/o Clinic Road 5\nHarrow Sound, Wexmoor 04417', 'Ms. Varga'],
  ['Pilar Ostergaard', 'person', '22 Beacon Hill\nHarrow Sound, Wexmoor 04418', 'Ms. Ostergaard'],
  ['Kestrel Point Marina', 'organization', '1 Kestrel Point\nPort Ansel, Wexmoor 04430', 'Mr. Abara'],
  ['Saltbox Bakery LLC', 'organization', '17 Granary Row\nHarrow Sound, Wexmoor 04417', 'Ms. Finch'],
  ['Merrow Kelp Farms', 'organization', '6 Outer Reach\nLower Brine, Wexmoor 04421', 'Mr. Merrow'],
  ['Dunlin Charter Fleet', 'organization', '14 Quay Street\nHarrow Sound, Wexmoor 04417', 'Ms. Dunlin'],
  ['Anneliese Korpela', 'person', '3 Alder Close\nPort Ansel, Wexmoor 04431', 'Ms. Korpela'],
  ['Rashid Belmonte', 'person', '58 Netmaker Street\nHarrow Sound, Wexmoor 04417', 'Mr. Belmonte'],
  ['Wickfield Rope Works', 'organization', '2 Ropewalk\nHarrow Sound, Wexmoor 04417', 'Mr. Wickfield'],
  ['Plover Island Trust', 'organization', 'Plover Island\nWexmoor 04440', 'Mr. Sandoval'],
  ['Larch & Lantern Inn', 'organization', '77 Post Road\nUpper Brine, Wexmoor 04422', 'Ms. Larch'],
  ['Estate of Beatrix Loring', 'organization', '10 Orchard Way\nUpper Brine, Wexmoor 04422', 'Mr. Loring'],
  ['Cormorant Diving Services', 'organization', '5 Breakwater\nHarrow Sound, Wexmoor 04417', 'Mr. Pryce'],
  ['Juniper Falk', 'person', '31 Millpond Lane\nPort Ansel, Wexmoor 04430', 'Ms. Falk'],
  ['Osprey Net Loft', 'organization', '12 Wharf Street\nLower Brine, Wexmoor 04421', 'Ms. Aalto'],
  ['Teodor Maslanka', 'person', '8 Harbor Steps\nHarrow Sound, Wexmoor 04417', 'Mr. Maslanka'],
  ['Blue Heath Dairy', 'organization', 'Heath Farm\nUpper Brine, Wexmoor 04422', 'Mr. Heath'],
  ['Sandrine Achebe', 'person', '19 Lamplighter Row\nPort Ansel, Wexmoor 04430', 'Ms. Achebe'],
  ['North Shoal Pilots', 'organization', '1 Pilot House\nHarrow Sound, Wexmoor 04417', 'Captain Rowe'],
  ['Quill & Anchor Books', 'organization', '24 Chandler Street\nHarrow Sound, Wexmoor 04417', 'Ms. Quill'],
  ['Estate of Ruben Castellan', 'organization', '2 Vineyard Path\nPort Ansel, Wexmoor 04430', 'Ms. Castellan'],
  ['Ebb Tide Seafoods', 'organization', '90 Cannery Road\nLower Brine, Wexmoor 04421', 'Mr. Lindqvist'],
  ['Marguerite Dufresne', 'person', '6 Bellbuoy Court\nHarrow Sound, Wexmoor 04418', 'Ms. Dufresne'],
  ['Farrow Street Garage', 'organization', '61 Farrow Street\nPort Ansel, Wexmoor 04430', 'Mr. Osei'],
  ['Halyard Sailmakers', 'organization', '4 Canvas Yard\nHarrow Sound, Wexmoor 04417', 'Ms. Brandt'],
  ['Iker Zabala', 'person', '15 Lower Quay\nLower Brine, Wexmoor 04421', 'Mr. Zabala'],
  ['Tern Harbor Housing Association', 'organization', '100 Tern Harbor\nWexmoor 04433', 'Ms. Whitlow'],
  ['Pellegrine Moto', 'organization', '18 Station Road\nPort Ansel, Wexmoor 04430', 'Mr. Pellegrine'],
  ['Nadia Svensdottir', 'person', '9 Candlemaker Lane\nHarrow Sound, Wexmoor 04417', 'Ms. Svensdottir'],
  ['Redstart Theatre Company', 'organization', '33 Playhouse Square\nPort Ansel, Wexmoor 04430', 'Mr. Gray'],
  ['Lowell Abernathy', 'person', '7 Gorse Hill\nUpper Brine, Wexmoor 04422', 'Mr. Abernathy'],
  ['Curlew Surveying', 'organization', '11 Chart Street\nHarrow Sound, Wexmoor 04417', 'Ms. Ito'],
  ['Saltmarsh Clinic', 'organization', '50 Saltmarsh Road\nHarrow Sound, Wexmoor 04417', 'Dr. Amadi'],
  ['Greta Holloway', 'person', '2 Almshouse Court\nHarrow Sound, Wexmoor 04417', 'Ms. Holloway'],
  ['Mbeki Tran', 'person', '44 Cannery Road\nLower Brine, Wexmoor 04421', 'Mr. Tran'],
  ['Violetta Marsh', 'person', '13 Saltmarsh Road\nHarrow Sound, Wexmoor 04417', 'Ms. Marsh'],
]

/** Those on the other side and around: name, kind, what they are. */
export const others: readonly [name: string, kind: 'person' | 'organization', what: string][] = [
  ['Corvane Towing Co.', 'organization', 'opposing party'],
  ['Pellan Shores Development', 'organization', 'opposing party'],
  ['Harrow Sound Pilots', 'organization', 'opposing party'],
  ['Giles Munro', 'person', 'opposing party'],
  ['Tyde Rye Distillers Ltd', 'organization', 'opposing party'],
  ['Marec Tyden', 'person', 'witness'],
  ['Corvin Achterberg', 'person', 'opposing counsel'],
  ['Lund & Co.', 'organization', 'opposing counsel'],
  ['Oduya Marine Engines', 'organization', 'opposing party'],
  ['Brackwater Insurance', 'organization', 'insurer'],
  ["Growers' Insurance Pool", 'organization', 'insurer'],
  ['Joana Sequeira', 'person', 'witness'],
  ['Hon. Miriam Oyelaran', 'person', 'judge'],
  ['Pellan Survey', 'organization', 'vendor'],
  ['Strand Reporting', 'organization', 'court reporter'],
  ['Wexmoor Records Office', 'organization', 'court staff'],
  ['Stellan Voss', 'person', 'expert'],
  ['Coldharbor Freight', 'organization', 'opposing party'],
  ['Dacre & Sons Builders', 'organization', 'opposing party'],
  ['Ilse Vandermeer', 'person', 'opposing party'],
  ['Bright Cove Resorts', 'organization', 'opposing party'],
  ['Ansel Provisioning', 'organization', 'opposing party'],
  ['Dr. Leonie Hartigan', 'person', 'medical provider'],
  ['Paloma Reyes Interpreting', 'organization', 'interpreter'],
]

const plain = { birthDate: null, language: '', pronouns: '', taxNumber: '', isPrivate: false, aliases: [] }
/** Clients whose bills and letters are in Spanish. */
const spanish = new Set(['Iker Zabala', 'Ruben Castellan', 'Rashid Belmonte'])

/** Puts everyone on record, and says by which number each is known. */
export async function meetAll(ctx: Ctx, contacts: Map<string, number>): Promise<void> {
  const slug = (name: string) =>
    name
      .toLowerCase()
      .replace(/[^a-z]+/g, '.')
      .replace(/^\.|\.$/g, '')
  for (const [name, kind, address, greeting] of clients)
    contacts.set(
      name,
      (
        await makeContact(ctx, {
          kind,
          name,
          address,
          greeting,
          email: `${slug(name)}@post.example`,
          phone: '(555) 014-' + String(2300 + contacts.size),
          notes: '',
          kinds: ['client'],
          ...plain,
          language: spanish.has(name) ? 'Spanish' : '',
        })
      ).id,
    )
  for (const [name, kind, what] of others)
    contacts.set(
      name,
      (
        await makeContact(ctx, {
          kind,
          name,
          address: '',
          greeting: '',
          email: `${slug(name)}@post.example`,
          phone: '',
          notes: '',
          kinds: [what],
          ...plain,
        })
      ).id,
    )
}

<script setup lang="ts">
import { groupedBy } from '@heron/core/lists'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, asks } from '../api'
import { useShown } from '../shown'
import { useAddress } from '../address'
import { useNotes } from '../shell/notes'
import { useSession } from '../shell/session'
import type { Act } from '../ui/ActMenu.vue'
import ActMenu from '../ui/ActMenu.vue'
import Btn from '../ui/Btn.vue'
import Pager from '../ui/Pager.vue'
import TextField from '../ui/TextField.vue'
import { plural } from '../ui/show'
import { useAct } from '../use'
import FolderSheet from './file/FolderSheet.vue'
import FolderTree from './file/FolderTree.vue'
import LinkList from './file/LinkList.vue'
import LinkSheet from './file/LinkSheet.vue'
import MoveSheet from './file/MoveSheet.vue'
import PaperSheet from './file/PaperSheet.vue'
import ReviewSheet from './file/ReviewSheet.vue'
import UploadList from './file/UploadList.vue'
import VersionSheet from './file/VersionSheet.vue'
import PaperTable, { type PaperRow } from './PaperTable.vue'
import SearchHits from './SearchHits.vue'
import { filesDropped, useUploads } from './uploads'
import PaperViewer from './view/PaperViewer.vue'

const props = defineProps<{ matterId: number }>()
const session = useSession()
const notes = useNotes()
const router = useRouter()
const uploads = useUploads()
const { act } = useAct()
const address = useAddress({ folder: '', q: '', open: '', add: '' })
const folder = computed({ get: () => address.folder, set: (f) => (address.folder = f) })
const page = ref(1)
const bin = computed(() => folder.value === '/bin')
const may = computed(() => session.may('papers.change'))

const tree = useShown(() => asks.papers.folders.queryOptions({ input: { id: props.matterId } }))
const { data, problem, loading, reload } = useShown(() =>
  asks.papers.list.queryOptions({
    input: {
      matterId: props.matterId,
      page: page.value,
      size: 100,
      ...(bin.value ? { bin: 'yes' as const } : folder.value ? { folder: folder.value } : {}),
    },
  }),
)
watch(folder, () => ((page.value = 1), (chosen.value = [])))
const chosen = ref<(number | string)[]>([])
const ids = computed(() => chosen.value.map(Number))
const rows = computed(() => data.value?.rows ?? [])
const target = computed(() => (folder.value && !bin.value ? folder.value : (tree.data.value?.folders[0]?.path ?? 'Correspondence')))

/** Which sheet stands open, and over which papers. */
type Sheet =
  | { kind: 'details' | 'version' | 'review'; id: number }
  | { kind: 'move' | 'link'; ids: number[] }
  | { kind: 'folder' | 'links' | 'rename' }
  | null
const sheet = ref<Sheet>(null)
/** Loaded when it is first wanted: the first page seldom needs it. */
const RecordTime = defineAsyncComponent(() => import('../time/RecordTime.vue'))
const working = ref<PaperRow | null>(null)
const picker = ref<HTMLInputElement | null>(null)
const folderPicker = ref<HTMLInputElement | null>(null)
const choose = (event: Event) => {
  const input = event.target as HTMLInputElement
  uploads.add(props.matterId, target.value, [...(input.files ?? [])])
  input.value = ''
}
watch(
  () => address.add,
  (on) => {
    if (!on) return
    picker.value?.click()
    address.add = ''
  },
  { immediate: true, flush: 'post' },
)

async function done<T>(work: () => Promise<T>, say: (result: T) => string, undo?: { label: string; act: () => Promise<unknown> }) {
  const result = await act(work)
  if (result === null) return
  notes.say(say(result), undo)
  chosen.value = []
  session.changed()
  return true
}
const move = (list: number[], to: string) => {
  const seen = rows.value.filter((r) => list.includes(r.id))
  const from = [...groupedBy(seen, (r) => r.folder)]
  const back = async () => {
    for (const [folder, papers] of from) await api.papers.move({ ids: papers.map((p) => p.id), folder })
    session.changed()
  }
  return done(
    () => api.papers.move({ ids: list, folder: to }),
    (r) => `${plural(r.moved, 'paper')} moved to ${to}`,
    // Where papers chosen on another page lay is not seen from this one.
    seen.length === list.length ? { label: 'Undo', act: back } : undefined,
  )
}
const remove = (list: number[]) =>
  done(
    () => api.papers.remove({ ids: list }),
    (r) => `${plural(r.removed, 'paper')} put in the bin`,
    {
      label: 'Undo',
      act: () => api.papers.restore({ ids: list }).then(() => session.changed()),
    },
  )
const restore = (list: number[]) =>
  done(
    () => api.papers.restore({ ids: list }),
    (r) => `${plural(r.restored, 'paper')} taken out of the bin`,
  )

function acts(p: PaperRow): Act[] {
  if (bin.value) return [{ text: 'Take out of the bin', act: () => restore([p.id]) }]
  const mine = p.out?.id === session.me?.id
  return [
    { text: 'Open', act: () => (address.open = String(p.id)) },
    { text: 'Details and versions', act: () => (sheet.value = { kind: 'details', id: p.id }) },
    { text: 'Download', to: `/api/papers/${p.id}/file`, out: true },
    ...(session.may('time.record') ? [{ text: 'Record time', act: () => (working.value = p) }] : []),
    ...(may.value
      ? [
          p.out
            ? {
                text: mine ? 'Give back unchanged' : `Give back for ${p.out.name}`,
                act: () =>
                  done(
                    () => api.papers.release({ id: p.id }),
                    () => `${p.name} is given back`,
                  ),
              }
            : {
                text: 'Check out to work on it',
                act: () =>
                  done(
                    () => api.papers.checkOut({ id: p.id, note: '' }),
                    () => `${p.name} is checked out to you`,
                  ),
              },
          { text: 'Save a new version …', act: () => (sheet.value = { kind: 'version', id: p.id }) },
          ...(p.template ? [{ text: 'Make it again …', to: `/matters/${props.matterId}/make?again=${p.id}` }] : []),
          { text: 'Ask a colleague to read it …', act: () => (sheet.value = { kind: 'review', id: p.id }) },
          { text: 'Move …', act: () => (sheet.value = { kind: 'move', ids: [p.id] }) },
          { text: 'Show to someone outside …', act: () => (sheet.value = { kind: 'link', ids: [p.id] }) },
          ...(session.may('docket.change')
            ? [{ text: 'Work out dates from it', to: `/matters/${p.matterId}/docket?work=1&paper=${p.id}` }]
            : []),
          { text: 'Put in the bin', act: () => remove([p.id]) },
        ]
      : []),
  ] as Act[]
}

/** Papers move where they are dropped on a folder; let go over the list they came from they stay. */
async function dropped(to: string, event: DragEvent, onFolder: boolean) {
  if (!may.value) return
  const paper = Number(event.dataTransfer?.getData('text/heron-papers'))
  if (paper) return onFolder && move(ids.value.includes(paper) ? ids.value : [paper], to)
  if (event.dataTransfer) uploads.add(props.matterId, to, await filesDropped(event.dataTransfer))
}
const over = ref(false)
const moreActs = computed((): Act[] => [
  { text: 'Add a whole folder …', act: () => folderPicker.value?.click() },
  { text: 'New folder …', act: () => (sheet.value = { kind: 'folder' }) },
  ...(folder.value && !bin.value
    ? [
        { text: `Rename or move ${folder.value} …`, act: () => (sheet.value = { kind: 'rename' as const }) },
        {
          text: `Take ${folder.value} away`,
          act: () =>
            done(
              () => api.papers.removeFolder({ id: props.matterId, path: folder.value }),
              () => 'The folder is gone',
            ).then((gone) => gone && (folder.value = '')),
        },
        { text: `Show ${folder.value} to someone outside …`, act: () => (sheet.value = { kind: 'link', ids: [] }) },
      ]
    : []),
  { text: 'Links for people outside', act: () => (sheet.value = { kind: 'links' }) },
])
const many = computed((): Act[] =>
  bin.value
    ? [{ text: 'Take out of the bin', act: () => restore(ids.value) }]
    : [
        { text: 'Download as ZIP', to: `/api/papers/zip?ids=${ids.value.join(',')}`, out: true },
        ...(may.value
          ? [
              { text: 'Move …', act: () => (sheet.value = { kind: 'move', ids: ids.value }) },
              { text: 'Show to someone outside …', act: () => (sheet.value = { kind: 'link', ids: ids.value }) },
              { text: 'Put in the bin', act: () => remove(ids.value) },
            ]
          : []),
      ],
)
const q = ref(address.q)
watch(
  () => address.q,
  (words) => (q.value = words),
)
const open = computed(() => Number(address.open) || 0)
</script>

<template>
  <div class="flex flex-wrap items-center gap-2 px-4 py-3">
    <h2>Papers</h2>
    <form class="ml-2 w-64 max-w-full" role="search" @submit.prevent="address.q = q.trim()">
      <TextField v-model="q" label="Find words in these papers" bare placeholder="Words in these papers" />
    </form>
    <Btn v-if="address.q" small @click="((q = ''), (address.q = ''))">Show all papers</Btn>
    <span class="ml-auto flex flex-wrap gap-2">
      <ActMenu
        v-if="chosen.length"
        :label="`Acts on ${plural(chosen.length, 'chosen paper')}`"
        :text="`${plural(chosen.length, 'paper')} chosen`"
        :acts="many"
      />
      <template v-if="may">
        <ActMenu label="More with papers" text="More" :acts="moreActs" />
        <Btn @click="picker?.click()">Add files</Btn>
        <Btn main @click="router.push(`/matters/${matterId}/make`)">Make a paper</Btn>
      </template>
    </span>
    <input ref="picker" type="file" multiple class="sr-only" tabindex="-1" aria-label="Files to add" @change="choose" />
    <input
      ref="folderPicker"
      type="file"
      multiple
      webkitdirectory
      class="sr-only"
      tabindex="-1"
      aria-label="Folder to add"
      @change="choose"
    />
  </div>
  <UploadList :matter-id="matterId" />
  <div class="grid stacks gap-x-3 border-t border-line-2 min-[900px]:min-h-[400px] min-[900px]:grid-cols-[190px_minmax(0,1fr)]">
    <div class="px-2 py-2">
      <FolderTree v-if="tree.data.value" v-model="folder" v-bind="tree.data.value" @drop="(to, event) => dropped(to, event, true)" />
    </div>
    <div
      class="min-w-0 border-l border-line-2"
      :class="over && 'outline-2 -outline-offset-2 outline-lagoon'"
      @dragover.prevent="over = may && Boolean($event.dataTransfer?.types.includes('Files'))"
      @dragleave="over = false"
      @drop.prevent.stop="((over = false), dropped(target, $event, false))"
    >
      <SearchHits
        v-if="address.q"
        :q="address.q"
        :matter-id="matterId"
        :folder="bin ? '' : folder"
        @open="(id) => (address.open = String(id))"
      />
      <template v-else>
        <PaperTable
          v-model:selected="chosen"
          :rows="rows"
          :bin="bin"
          :acts="acts"
          :loading="loading && !data"
          :problem="problem"
          @again="reload()"
          @open="(id) => (bin ? undefined : (address.open = String(id)))"
        >
          <template #empty
            >{{ bin ? 'The bin is empty.' : folder ? `Nothing lies in ${folder}.` : 'No papers yet.' }}
            <template v-if="may && !bin">Drop files here, add them, or make a paper from a template.</template></template
          >
        </PaperTable>
        <Pager v-model="page" :total="data?.total ?? 0" :size="100" what="papers" />
      </template>
    </div>
  </div>
  <PaperViewer
    v-if="open"
    :id="open"
    :among="rows.map((r) => r.id)"
    @close="address.open = ''"
    @go="(id) => (address.open = String(id))"
    @details="(id) => (sheet = { kind: 'details', id })"
  />
  <template v-if="sheet">
    <PaperSheet v-if="sheet.kind === 'details'" :id="sheet.id" @close="sheet = null" />
    <VersionSheet
      v-if="sheet.kind === 'version'"
      :id="sheet.id"
      :matter-id="matterId"
      :name="rows.find((r) => r.id === (sheet as { id: number }).id)?.name ?? ''"
      @close="sheet = null"
    />
    <ReviewSheet v-if="sheet.kind === 'review'" :id="sheet.id" :matter-id="matterId" @close="sheet = null" />
    <MoveSheet
      v-if="sheet.kind === 'move'"
      :ids="sheet.ids"
      :folders="tree.data.value?.folders ?? []"
      @moved="(to) => move((sheet as { ids: number[] }).ids, to).then((went) => went && (sheet = null))"
      @close="sheet = null"
    />
    <LinkSheet
      v-if="sheet.kind === 'link'"
      :matter-id="matterId"
      :ids="sheet.ids"
      :folder="sheet.ids.length ? null : folder"
      @close="sheet = null"
    />
    <FolderSheet
      v-if="sheet.kind === 'folder' || sheet.kind === 'rename'"
      :matter-id="matterId"
      :path="folder"
      :rename="sheet.kind === 'rename'"
      @made="(path) => ((folder = path), (sheet = null))"
      @close="sheet = null"
    />
    <LinkList v-if="sheet.kind === 'links'" :matter-id="matterId" @close="sheet = null" />
  </template>
  <RecordTime
    v-if="working"
    :matter="{ id: working.matterId, text: working.matter }"
    :words="`Review ${working.name}`"
    @close="working = null"
  />
</template>

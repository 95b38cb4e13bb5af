<script setup lang="ts">
import Mention from '@tiptap/extension-mention'
import StarterKit from '@tiptap/starter-kit'
import { EditorContent, useEditor } from '@tiptap/vue-3'
import { ref, watch } from 'vue'
import { api } from '../api'

const model = defineModel<string>({ required: true })
const props = defineProps<{ label: string; matterId?: number; placeholder?: string }>()
const emit = defineEmits<{ send: [] }>()

/** People to mention, shown as a list under the editor while `@` and letters are typed. */
const people = ref<{ id: number; name: string }[]>([])
const at = ref(0)
let choose: ((p: { id: string; label: string }) => void) | null = null
const take = (i: number) => {
  const p = people.value[i]
  if (p) choose?.({ id: String(p.id), label: p.name })
}

const editor = useEditor({
  content: model.value,
  injectCSS: false,
  extensions: [
    StarterKit.configure({ heading: { levels: [3] }, link: { openOnClick: false } }),
    Mention.configure({
      HTMLAttributes: { class: 'mention' },
      suggestion: {
        items: ({ query }) => api.notes.people({ matterId: props.matterId, q: query }).catch(() => []),
        render: () => ({
          onStart: (s) => {
            people.value = s.items as typeof people.value
            at.value = 0
            choose = s.command as typeof choose
          },
          onUpdate: (s) => {
            people.value = s.items as typeof people.value
            at.value = 0
            choose = s.command as typeof choose
          },
          onKeyDown: ({ event }) => {
            if (!people.value.length) return false
            if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
              at.value = (at.value + (event.key === 'ArrowDown' ? 1 : people.value.length - 1)) % people.value.length
              return true
            }
            if (event.key === 'Enter' || event.key === 'Tab') {
              take(at.value)
              return true
            }
            if (event.key === 'Escape') {
              people.value = []
              return true
            }
            return false
          },
          onExit: () => (people.value = []),
        }),
      },
    }),
  ],
  editorProps: {
    attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': props.label, class: 'control note-text min-h-[72px]' },
    handleKeyDown: (_view, event) => {
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
        emit('send')
        return true
      }
      return false
    },
  },
  onUpdate: ({ editor: e }) => (model.value = e.isEmpty ? '' : e.getHTML()),
})
watch(model, (html) => {
  if (editor.value && html !== editor.value.getHTML() && !(html === '' && editor.value.isEmpty)) editor.value.commands.setContent(html)
})
const acts = [
  { name: 'Bold', text: 'B', run: () => editor.value?.chain().focus().toggleBold().run(), on: () => editor.value?.isActive('bold') },
  { name: 'Italic', text: 'I', run: () => editor.value?.chain().focus().toggleItalic().run(), on: () => editor.value?.isActive('italic') },
  {
    name: 'List',
    text: '•',
    run: () => editor.value?.chain().focus().toggleBulletList().run(),
    on: () => editor.value?.isActive('bulletList'),
  },
  {
    name: 'Numbered list',
    text: '1.',
    run: () => editor.value?.chain().focus().toggleOrderedList().run(),
    on: () => editor.value?.isActive('orderedList'),
  },
  {
    name: 'Quote',
    text: '“',
    run: () => editor.value?.chain().focus().toggleBlockquote().run(),
    on: () => editor.value?.isActive('blockquote'),
  },
]
</script>

<template>
  <div class="relative">
    <div class="mb-1 flex gap-1" role="toolbar" :aria-label="`Form of ${label}`">
      <button
        v-for="a in acts"
        :key="a.name"
        type="button"
        class="h-6 min-w-6 rounded-control border border-line px-1.5 text-sm"
        :class="a.on() ? 'bg-mist font-semibold' : 'bg-paper'"
        :aria-pressed="a.on() ?? false"
        :aria-label="a.name"
        @click="a.run()"
      >
        {{ a.text }}
      </button>
      <span class="ml-2 self-center text-sm text-ink-2">@ mentions a colleague</span>
    </div>
    <EditorContent :editor="editor" />
    <ul
      v-if="people.length"
      class="absolute z-30 mt-1 min-w-48 rounded-sheet border border-line bg-paper py-1 shadow-lg"
      role="listbox"
      aria-label="People to mention"
    >
      <li
        v-for="(p, i) in people"
        :key="p.id"
        role="option"
        :aria-selected="i === at"
        class="cursor-pointer px-3 py-1"
        :class="i === at && 'bg-lagoon-wash'"
        @mousedown.prevent="take(i)"
      >
        {{ p.name }}
      </li>
    </ul>
  </div>
</template>

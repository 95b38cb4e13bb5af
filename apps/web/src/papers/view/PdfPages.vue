<script setup lang="ts">
import * as pdfjs from 'pdfjs-dist'
import workerAddress from 'pdfjs-dist/build/pdf.worker.min.mjs?url'
import { useElementSize, useIntersectionObserver } from '@vueuse/core'
import { computed, nextTick, onUnmounted, ref, shallowRef, watch } from 'vue'
import Btn from '../../ui/Btn.vue'
import { plural } from '../../ui/show'

/** The pages of a PDF, each drawn when it comes into sight, with its text for reading programs and for copying. */
const props = defineProps<{ src: string; label: string }>()
pdfjs.GlobalWorkerOptions.workerSrc = workerAddress

const frame = ref<HTMLElement | null>(null)
const { width } = useElementSize(frame)
const doc = shallowRef<pdfjs.PDFDocumentProxy | null>(null)
const sizes = ref<{ width: number; height: number }[]>([])
const problem = ref('')
const zoom = ref(1)
const scale = computed(() =>
  sizes.value[0] && width.value ? Math.max(0.2, (Math.min(width.value - 24, 1100) / sizes.value[0].width) * zoom.value) : 1,
)
let task: pdfjs.PDFDocumentLoadingTask | null = null

watch(
  () => props.src,
  async (src) => {
    await task?.destroy()
    doc.value = null
    sizes.value = []
    problem.value = ''
    task = pdfjs.getDocument({ url: src, isEvalSupported: false, useWasm: false, enableXfa: false })
    try {
      const opened = await task.promise
      const list: { width: number; height: number }[] = []
      // The first pages tell how large they are; the rest are taken to be like the last of them until they are seen.
      for (let i = 1; i <= opened.numPages; i += 1) {
        if (i > 20) {
          list.push(list[list.length - 1]!)
          continue
        }
        const view = (await opened.getPage(i)).getViewport({ scale: 1 })
        list.push({ width: view.width, height: view.height })
      }
      sizes.value = list
      doc.value = opened
    } catch (error) {
      problem.value =
        (error as { name?: string }).name === 'PasswordException'
          ? 'This PDF is locked with a password. Download it to open it.'
          : 'This PDF cannot be shown. Download it to read it.'
    }
  },
  { immediate: true },
)
onUnmounted(() => void task?.destroy())

const drawn = new Map<number, string>()
async function draw(n: number, holder: HTMLElement) {
  const mark = `${props.src} ${scale.value.toFixed(3)}`
  if (!doc.value || drawn.get(n) === mark) return
  drawn.set(n, mark)
  const page = await doc.value.getPage(n)
  const sharp = Math.min(2, window.devicePixelRatio || 1)
  const viewport = page.getViewport({ scale: scale.value * sharp })
  const canvas = holder.querySelector('canvas')!
  canvas.width = Math.floor(viewport.width)
  canvas.height = Math.floor(viewport.height)
  await page.render({ canvas, viewport }).promise.catch(() => drawn.delete(n))
  const content = await page.getTextContent()
  holder.querySelector('[data-text]')!.textContent = content.items
    .map((i) => ('str' in i ? `${i.str}${i.hasEOL ? '\n' : ''}` : ''))
    .join('')
}
const vPage = {
  mounted(el: HTMLElement, { value }: { value: number }) {
    const { stop } = useIntersectionObserver(el, ([seen]) => seen?.isIntersecting && void draw(value, el), { rootMargin: '400px' })
    onStop.set(el, stop)
  },
  unmounted(el: HTMLElement) {
    onStop.get(el)?.()
    onStop.delete(el)
  },
}
const onStop = new Map<HTMLElement, () => void>()
watch(scale, async () => {
  await nextTick()
  for (const el of frame.value?.querySelectorAll<HTMLElement>('[data-page]') ?? []) {
    const at = el.getBoundingClientRect()
    if (at.bottom > -400 && at.top < window.innerHeight + 400) void draw(Number(el.dataset['page']), el)
    else drawn.delete(Number(el.dataset['page']))
  }
})
</script>

<template>
  <div class="flex h-full flex-col">
    <div v-if="sizes.length" class="flex items-center gap-2 border-b border-line-2 px-3 py-1.5 text-sm">
      <span class="text-ink-2">{{ plural(sizes.length, 'page') }}</span>
      <Btn small class="ml-auto" aria-label="Smaller" @click="zoom = Math.max(0.4, zoom - 0.2)">−</Btn>
      <span class="w-12 text-center text-ink-2">{{ Math.round(zoom * 100) }} %</span>
      <Btn small aria-label="Larger" @click="zoom = Math.min(3, zoom + 0.2)">+</Btn>
    </div>
    <div ref="frame" class="min-h-0 flex-1 overflow-auto bg-mist p-3" tabindex="0" role="region" :aria-label="label">
      <p v-if="problem" role="alert" class="text-rust">{{ problem }}</p>
      <p v-else-if="!doc" role="status" class="text-ink-2">Opening …</p>
      <div
        v-for="(s, i) in sizes"
        :key="`${src} ${i}`"
        v-page="i + 1"
        :data-page="i + 1"
        class="relative mx-auto mb-3 bg-paper shadow"
        :style="{ width: `${s.width * scale}px`, height: `${s.height * scale}px` }"
      >
        <canvas class="h-full w-full" aria-hidden="true"></canvas>
        <div data-text class="sr-only whitespace-pre-wrap"></div>
      </div>
    </div>
  </div>
</template>

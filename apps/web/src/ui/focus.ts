import { onUnmounted } from 'vue'

/** Gives the focus back to where it was when what uses this is put away. */
export function useReturnFocus() {
  const before = document.activeElement
  onUnmounted(() =>
    window.setTimeout(() => before instanceof HTMLElement && before.isConnected && before !== document.body && before.focus(), 0),
  )
}

import { onUnmounted } from 'vue'

let outside: HTMLElement | null = null

/**
 * Gives the focus back to where it was before the first sheet opened, once no sheet is left.
 * A sheet that is replaced by another, or lies over one, leaves the focus to that one.
 */
export function useReturnFocus() {
  const at = document.activeElement
  if (at instanceof HTMLElement && at !== document.body && !at.closest('[role="dialog"]')) outside = at
  onUnmounted(() =>
    window.setTimeout(() => {
      if (document.querySelector('[role="dialog"]')) return
      if (outside?.isConnected) outside.focus()
      outside = null
    }, 0),
  )
}

export type Theme = 'linen' | 'pitch'

/** The theme of this browser: the one chosen here, else the system's. */
export function theme(): Theme {
  const chosen = localStorage.getItem('theme')
  if (chosen === 'linen' || chosen === 'pitch') return chosen
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'pitch' : 'linen'
}

export function wear(chosen: Theme) {
  localStorage.setItem('theme', chosen)
  document.documentElement.dataset.theme = chosen
}

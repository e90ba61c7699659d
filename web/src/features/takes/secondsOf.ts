/** Some browsers do not read a file before one wants to hear it. */
const PATIENCE_MS = 5000

/** How long a recording is, as far as the browser can tell; 0 where it cannot, or does not say in time. */
export function secondsOf(file: File): Promise<number> {
  return new Promise((resolve) => {
    const audio = document.createElement('audio')
    const url = URL.createObjectURL(file)
    const end = (seconds: number) => {
      clearTimeout(patience)
      URL.revokeObjectURL(url)
      resolve(seconds)
    }
    const patience = setTimeout(() => end(0), PATIENCE_MS)
    audio.preload = 'metadata'
    audio.onloadedmetadata = () => end(Number.isFinite(audio.duration) ? audio.duration : 0)
    audio.onerror = () => end(0)
    audio.src = url
  })
}

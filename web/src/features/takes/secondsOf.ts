/** How long a recording is, as far as the browser can tell; 0 where it cannot. */
export function secondsOf(file: File): Promise<number> {
  return new Promise((resolve) => {
    const audio = document.createElement('audio')
    const url = URL.createObjectURL(file)
    const end = (seconds: number) => {
      URL.revokeObjectURL(url)
      resolve(seconds)
    }
    audio.preload = 'metadata'
    audio.onloadedmetadata = () => end(Number.isFinite(audio.duration) ? audio.duration : 0)
    audio.onerror = () => end(0)
    audio.src = url
  })
}

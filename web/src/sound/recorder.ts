/** The microphone, as it is: nothing that a device thinks of as noise is taken out of music. */
export interface Recorder {
  stop: () => Promise<Blob>
  cancel: () => void
}

const PLAIN = { echoCancellation: false, noiseSuppression: false, autoGainControl: false }
const TYPES = ['audio/webm;codecs=opus', 'audio/mp4', 'audio/ogg;codecs=opus']

/** Begin to record; throws where there is no microphone or it is not allowed. */
export async function record(): Promise<Recorder> {
  const stream = await navigator.mediaDevices.getUserMedia({ audio: PLAIN })
  const type = TYPES.find((one) => MediaRecorder.isTypeSupported(one))
  const recorder = new MediaRecorder(stream, { ...(type && { mimeType: type }), audioBitsPerSecond: 96_000 })
  const pieces: Blob[] = []
  recorder.ondataavailable = (event) => pieces.push(event.data)
  recorder.start(1000)
  const release = () => stream.getTracks().forEach((track) => track.stop())
  return {
    stop: () =>
      new Promise((resolve) => {
        recorder.onstop = () => {
          release()
          resolve(new Blob(pieces, { type: recorder.mimeType }))
        }
        recorder.stop()
      }),
    cancel: () => {
      recorder.onstop = null
      if (recorder.state !== 'inactive') recorder.stop()
      release()
    },
  }
}

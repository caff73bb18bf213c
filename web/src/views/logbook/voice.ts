import { useEffect, useRef, useState } from 'react'

/** So long a note is spoken at most: what is longer is better written [s]. */
const LONGEST_S = 180
const KINDS = ['audio/webm', 'audio/mp4', 'audio/ogg']

/** Speaking a note, where this tablet has a microphone that the page may use: only here, or over HTTPS. */
export function useVoice(onSpoken: (file: Blob) => void) {
  const kind = KINDS.find((one) => window.MediaRecorder?.isTypeSupported(one))
  const recorder = useRef<MediaRecorder | null>(null)
  const [runs, setRuns] = useState(false)
  const [seconds, setSeconds] = useState(0)
  const [problem, setProblem] = useState('')
  const stop = () => recorder.current?.stop()
  useEffect(() => {
    if (!runs) return
    const timer = window.setInterval(() => {
      setSeconds((now) => {
        if (now + 1 >= LONGEST_S) recorder.current?.stop()
        return now + 1
      })
    }, 1000)
    return () => window.clearInterval(timer)
  }, [runs])
  // Left while it runs, the microphone is let go of.
  useEffect(
    () => () => {
      for (const track of recorder.current?.stream.getTracks() ?? []) track.stop()
    },
    [],
  )
  const start = async () => {
    setProblem('')
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true })
      const parts: Blob[] = []
      const made = new MediaRecorder(stream, { mimeType: kind })
      made.ondataavailable = ({ data }) => parts.push(data)
      made.onstop = () => {
        for (const track of stream.getTracks()) track.stop()
        setRuns(false)
        onSpoken(new Blob(parts, { type: kind }))
      }
      recorder.current = made
      made.start()
      setSeconds(0)
      setRuns(true)
    } catch {
      setProblem('The microphone can’t be used: allow it for this page, or write the note.')
    }
  }
  return {
    can: kind !== undefined && navigator.mediaDevices !== undefined,
    runs,
    seconds,
    problem,
    start,
    stop,
  }
}

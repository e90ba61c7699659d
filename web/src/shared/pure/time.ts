import { t } from '../../words/words'
/** Seconds as a musician says them: 45 s, 6:26. */
export function clock(seconds: number): string {
  const whole = Math.round(seconds)
  if (whole < 60) return `${whole} s`
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}

export function minutes(seconds: number): string {
  if (seconds === 0) return t('shared.n0Min')
  const rounded = Math.max(1, Math.round(seconds / 60))
  return t('shared.min', { rounded })
}

export function bpm(value: number): string {
  return Number.isInteger(value) ? String(value) : value.toFixed(1)
}

export function day(date: string): string {
  return new Date(`${date}T12:00:00`).toLocaleDateString(undefined, {
    weekday: 'short',
    month: 'short',
    day: 'numeric',
  })
}

/** The date so many days from now, as a date field holds it. */
export function inDays(days: number): string {
  const date = new Date()
  date.setDate(date.getDate() + days)
  const pad = (n: number) => String(n).padStart(2, '0')
  return `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`
}

export function moment(stamp: string): string {
  return new Date(stamp).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })
}

/** The time zone of this device, by its name. */
export function hereZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'
}

/**
 * Written down before anything else: the browser's database takes a moment, a tab that is closed in
 * that moment would lose the last tap. What is found here at the next start goes on from here.
 */
export class WriteAhead<T extends { id: string; kind: string }> {
  constructor(
    private readonly prefix: string,
    private readonly kept: Storage | null = storage(),
  ) {}

  /** Write one down, at once; false if there is no room for it. */
  note(one: T): boolean {
    try {
      this.kept?.setItem(this.nameOf(one), JSON.stringify(one))
      return this.kept !== null
    } catch {
      return false
    }
  }

  /** It is kept elsewhere now. */
  done(one: T): void {
    this.kept?.removeItem(this.nameOf(one))
  }

  /** What an earlier page could not keep elsewhere, the oldest first. */
  left(): T[] {
    const found: T[] = []
    for (let i = 0; i < (this.kept?.length ?? 0); i++) {
      const key = this.kept?.key(i)
      if (!key?.startsWith(this.prefix)) continue
      try {
        found.push(JSON.parse(this.kept?.getItem(key) ?? '') as T)
      } catch {
        // Half a line, of a device that went off while it wrote.
      }
    }
    return found.sort((a, b) => (a.id < b.id ? -1 : 1))
  }

  private nameOf(one: T): string {
    return `${this.prefix} ${one.kind} ${one.id}`
  }
}

function storage(): Storage | null {
  try {
    return window.localStorage
  } catch {
    return null
  }
}

import { Refusal, type Schemas } from '../../api/client'
import type { Ways } from './ways'

type Message = Schemas['WritingMessage']

/** What is written on a page, as far as a line goes: a text or a table. */
export interface Script {
  /** How many steps there have been in what it has. */
  version: () => number
  /** What was done here and does not stand yet, made on a version: as much as may be sent at once. */
  sendable: () => { version: number; steps: object[] } | undefined
  /** Takes over what stands; throws where that cannot be. */
  take: (b: Schemas['WritingBatch']) => void
  /** What was sent was taken: so many of its steps stand. */
  taken?: (count: number) => void
  /** Where I am, once what is under way stands. */
  caret: () => Omit<Schemas['WritingCaret'], 'page'> | undefined
}

/** What a line tells its page. */
export interface Ears {
  /** The text is to be taken anew; lost says that something of one's own did not get through. */
  anew: (opening: Schemas['WritingOpening'], lost: boolean) => void
  people: (all: Schemas['WritingPerson'][]) => void
  caret: (c: Schemas['WritingCaret']) => void
  mode: (m: Schemas['WritingMode']) => void
  kept: (k: Schemas['WritingKept']) => void
  signal?: (s: Schemas['CallSignalled']) => void
  results?: (all: Schemas['TableResult'][]) => void
  /** How it stands: with the server, on the way there, or for good apart. */
  stands: (s: 'live' | 'away' | 'ended', code?: string) => void
  /** All that was written is durable, or something is on its way. */
  sent: (all: boolean) => void
  refused: (code: string) => void
}

/** Codes after which a batch is simply tried again: the server, or its database, was away. */
const again = ['internal', 'unavailable', 'offline', 'text-went-on', 'text-page-slow', 'too-many-tries']

/**
 * The line between an open page and a text: it sends what was written, one batch at a time, and tells what the others
 * wrote, over a socket, or by asking again and again where none gets through. When it breaks it comes back by itself, and
 * what was written meanwhile goes along.
 */
export class Line {
  private socket?: WebSocket
  private turn = 0
  /** The batch that is under way, and the version at which it stands once that is known. */
  private under?: { turn: number; upto?: number }
  private tries = 0
  private opened = false
  /** A socket has got through once. */
  private passes = false
  private asking = false
  private over = false
  /** The text is being taken anew: what is told meanwhile is in it, or told again. */
  private restarting = false
  private timer?: ReturnType<typeof setTimeout>
  private caretTimer?: ReturnType<typeof setTimeout>
  private lastCaret = ''

  constructor(
    private readonly ways: Ways,
    private readonly page: string,
    private readonly script: Script,
    private readonly ears: Ears,
  ) {}

  start() {
    this.connect()
  }

  end() {
    this.over = true
    clearTimeout(this.timer)
    clearTimeout(this.caretTimer)
    this.socket?.close(1000)
  }

  private connect() {
    if (this.over) return
    if (this.asking) {
      void this.ask()
      return
    }
    const since = this.script.version()
    const at = `${location.origin.replace(/^http/, 'ws')}${this.ways.socket}page=${this.page}&since=${since}`
    const socket = new WebSocket(at)
    this.socket = socket
    const patience = setTimeout(() => socket.close(), 10_000)
    socket.onmessage = (e) => {
      clearTimeout(patience)
      this.passes = true
      this.hear(JSON.parse(e.data as string) as Message)
    }
    socket.onclose = () => {
      clearTimeout(patience)
      if (this.socket !== socket || this.over) return
      this.broken()
    }
  }

  /** It broke: what was under way may have got through or not, which the next opening tells. */
  private broken() {
    this.socket = undefined
    this.under = undefined
    this.ears.stands('away')
    this.tries++
    // A proxy that lets no socket pass never lets one open.
    if (!this.passes && this.tries >= 3) this.asking = true
    this.timer = setTimeout(() => this.connect(), Math.min(10_000, 300 * 2 ** Math.min(this.tries, 6)) * (0.7 + Math.random() * 0.6))
  }

  /** Asks again and again: each time what is new, at once or within some seconds. */
  private async ask() {
    while (!this.over && this.asking) {
      try {
        const query = { page: this.page, since: this.script.version(), wait: this.tries ? 0 : 20 }
        this.hear(await this.ways.open(query))
        this.tries = 0
      } catch (e) {
        if (this.refusedForGood(e)) return
        this.ears.stands('away')
        this.tries++
        await new Promise((done) => setTimeout(done, Math.min(10_000, 500 * 2 ** Math.min(this.tries, 5))))
      }
    }
  }

  private refusedForGood(e: unknown): boolean {
    if (!(e instanceof Refusal) || again.includes(e.code) || e.problem.status >= 500 || e.problem.status === 429) return false
    this.stop(e.code)
    return true
  }

  private stop(code: string) {
    this.over = true
    this.socket?.close(1000)
    this.ears.stands('ended', code)
  }

  private hear(m: Message) {
    if (m.opening) this.open(m)
    if (this.restarting) return
    for (const b of m.batches ?? []) if (!this.take(b)) return
    if (m.people) this.ears.people(m.people)
    if (m.caret) this.ears.caret(m.caret)
    if (m.mode) this.ears.mode(m.mode)
    if (m.kept) this.ears.kept(m.kept)
    if (m.signal) this.ears.signal?.(m.signal)
    if (m.results) this.ears.results?.(m.results)
    if (m.taken && this.under?.turn === m.taken.turn) {
      this.under.upto = m.taken.version
      this.script.taken?.(m.taken.count)
    }
    if (m.refused && this.under?.turn === m.refused.turn) this.refuse(m.refused.code)
    else if (m.refused?.turn === 0) this.ears.refused(m.refused.code)
    if (m.anew) this.restart(false)
    if (m.ended && !again.includes(m.ended)) {
      this.stop(m.ended)
      return
    }
    this.settle()
  }

  private open(m: Message) {
    const o = m.opening!
    this.opened = true
    this.tries = 0
    // Where a socket opened anew, what was under way has got through or not; what is told now says so.
    if (!this.asking) this.under = undefined
    if (o.text || o.table) this.ears.anew(o, !!this.script.sendable())
    else this.ears.mode(o.mode)
    this.ears.stands('live')
  }

  /** Takes a batch over; false where the text has to be taken anew. */
  private take(b: Schemas['WritingBatch']): boolean {
    const version = this.script.version()
    if (b.version < version) return true
    try {
      if (b.version > version) throw new Error('something was missed')
      this.script.take(b)
      return true
    } catch {
      this.restart(true)
      return false
    }
  }

  /** The text is taken anew: what is not with the server yet is lost where it cannot be carried. */
  private restart(lost: boolean) {
    if (this.restarting) return
    this.restarting = true
    this.under = undefined
    const query = { page: this.page, since: 0 }
    this.ways
      .open(query)
      .then((m) => {
        if (this.over) return
        if (m.opening) this.ears.anew(m.opening, lost && !!this.script.sendable())
        if (!this.asking) this.socket?.close()
      })
      .catch((e: unknown) => {
        if (!this.refusedForGood(e)) this.socket?.close()
      })
      .finally(() => (this.restarting = false))
  }

  private refuse(code: string) {
    this.under = undefined
    if (again.includes(code)) {
      clearTimeout(this.timer)
      this.timer = setTimeout(() => this.send(), code === 'text-went-on' ? 50 : 1000)
      return
    }
    this.ears.refused(code)
    this.restart(false)
  }

  /** A batch stands once all up to it has been told; then the next one goes. */
  private settle() {
    if (this.under?.upto !== undefined && this.script.version() >= this.under.upto) this.under = undefined
    this.send()
  }

  /** Sends what was written, unless something is under way already. */
  send() {
    if (this.under) {
      this.ears.sent(false)
      return
    }
    const sendable = this.script.sendable()
    this.ears.sent(!sendable)
    if (!sendable || this.over) return
    const turn = ++this.turn
    const body: Schemas['WritingSent'] = { turn, version: sendable.version, steps: sendable.steps as Record<string, unknown>[] }
    if (this.asking) {
      this.under = { turn }
      void this.post(body)
    } else if (this.socket?.readyState === WebSocket.OPEN && this.opened) {
      this.under = { turn }
      this.socket.send(JSON.stringify(body))
    }
  }

  private async post(body: Schemas['WritingSent']) {
    try {
      const m = await this.ways.send(this.page, body)
      this.hear(m)
    } catch (e) {
      if (this.under?.turn === body.turn) this.refuse(e instanceof Refusal ? e.code : 'offline')
    }
  }

  /** Says something of the call; false where there is no live line. */
  ring(call: Schemas['CallSent']): boolean {
    if (this.over || this.socket?.readyState !== WebSocket.OPEN || !this.opened) return false
    this.socket.send(JSON.stringify({ turn: 0, version: this.script.version(), steps: [], call } satisfies Schemas['WritingSent']))
    return true
  }

  /** Says where I am, a few times a second at most. */
  caret() {
    if (this.caretTimer || this.over || this.asking) return
    this.caretTimer = setTimeout(() => {
      this.caretTimer = undefined
      const caret = this.script.caret()
      const said = JSON.stringify({ ...caret, version: 0 })
      if (!caret || said === this.lastCaret || this.socket?.readyState !== WebSocket.OPEN || !this.opened) return
      this.lastCaret = said
      this.socket.send(JSON.stringify({ turn: 0, version: this.script.version(), steps: [], caret }))
    }, 150)
  }
}

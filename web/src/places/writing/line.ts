import { getVersion, receiveTransaction, sendableSteps } from 'prosemirror-collab'
import type { EditorState, Transaction } from 'prosemirror-state'
import { Step } from 'prosemirror-transform'
import { api, data, Refusal, type Schemas } from '../../api/client'
import { schema } from './schema'

type Message = Schemas['WritingMessage']

/** What a line tells its page, and asks it. */
export interface Ears {
  state: () => EditorState
  apply: (tr: Transaction) => void
  /** The text is to be taken anew; lost says that something of one's own did not get through. */
  anew: (opening: Schemas['WritingOpening'], lost: boolean) => void
  people: (all: Schemas['WritingPerson'][]) => void
  caret: (c: Schemas['WritingCaret']) => void
  mode: (m: Schemas['WritingMode']) => void
  kept: (k: Schemas['WritingKept']) => void
  /** How it stands: with the server, on the way there, or for good apart. */
  stands: (s: 'live' | 'away' | 'ended', code?: string) => void
  /** All that was written is durable, or something is on its way. */
  sent: (all: boolean) => void
  refused: (code: string) => void
}

interface StepJSON {
  stepType: string
  steps?: StepJSON[]
}

/** What undoes a set of marks twice is a set within a set, which is sent flat: nobody would read it otherwise. */
const flat = (s: StepJSON): StepJSON =>
  s.stepType === 'markSet' ? { ...s, steps: (s.steps ?? []).flatMap((i) => flat(i).steps ?? [i]) } : s
const asJSON = (s: Step) => flat(s.toJSON() as StepJSON)

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
    private readonly document: string,
    private readonly page: string,
    private readonly ears: Ears,
    /** That what is decided on the document is superseded by writing on, said with every request. */
    private readonly headers: Record<string, string>,
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
    const since = getVersion(this.ears.state())
    const at = `${location.origin.replace(/^http/, 'ws')}/api/documents/${this.document}/writing/socket?page=${this.page}&since=${since}${this.headers.Supersede ? `&supersede=${this.headers.Supersede}` : ''}`
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
        const query = { page: this.page, since: getVersion(this.ears.state()), wait: this.tries ? 0 : 20 }
        const m = await data(api.GET('/documents/{id}/writing', { params: { path: { id: this.document }, query }, headers: this.headers }))
        this.hear(m)
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
    if (m.taken && this.under?.turn === m.taken.turn) this.under.upto = m.taken.version
    if (m.refused && this.under?.turn === m.refused.turn) this.refuse(m.refused.code)
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
    if (o.text) this.ears.anew(o, !!sendableSteps(this.ears.state()))
    else this.ears.mode(o.mode)
    this.ears.stands('live')
  }

  /** Takes a batch over; false where the text has to be taken anew. */
  private take(b: Schemas['WritingBatch']): boolean {
    const state = this.ears.state()
    const version = getVersion(state)
    if (b.version < version) return true
    try {
      if (b.version > version) throw new Error('something was missed')
      if (b.page === this.page) {
        // My own come as the server carried them, which must be as I did.
        const mine = sendableSteps(state)?.steps.slice(0, b.steps.length).map(asJSON)
        if (!mine || !same(mine, b.steps)) throw new Error('carried otherwise')
      }
      const steps = b.steps.map((s) => Step.fromJSON(schema, s))
      const tr = receiveTransaction(
        state,
        steps,
        steps.map(() => b.page),
        { mapSelectionBackward: true },
      )
      tr.doc.check()
      this.ears.apply(tr)
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
    data(api.GET('/documents/{id}/writing', { params: { path: { id: this.document }, query }, headers: this.headers }))
      .then((m) => {
        if (this.over) return
        if (m.opening) this.ears.anew(m.opening, lost && !!sendableSteps(this.ears.state()))
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
    if (this.under?.upto !== undefined && getVersion(this.ears.state()) >= this.under.upto) this.under = undefined
    this.send()
  }

  /** Sends what was written, unless something is under way already. */
  send() {
    const sendable = sendableSteps(this.ears.state())
    this.ears.sent(!sendable)
    if (!sendable || this.under || this.over) return
    const steps = sendable.steps.slice(0, 500).map(asJSON)
    const turn = ++this.turn
    const body: Schemas['WritingSent'] = { turn, version: sendable.version, steps: steps as unknown as Record<string, unknown>[] }
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
      const query = { page: this.page }
      const m = await data(
        api.POST('/documents/{id}/writing', { params: { path: { id: this.document }, query }, body, headers: this.headers }),
      )
      this.hear(m)
    } catch (e) {
      if (this.under?.turn === body.turn) this.refuse(e instanceof Refusal ? e.code : 'offline')
    }
  }

  /** Says where I am, a few times a second at most. */
  caret() {
    if (this.caretTimer || this.over || this.asking) return
    this.caretTimer = setTimeout(() => {
      this.caretTimer = undefined
      const state = this.ears.state()
      const { anchor, head } = state.selection
      // The version once what is under way stands: before it, the place would be another one.
      const caret = { version: getVersion(state) + (sendableSteps(state)?.steps.length ?? 0), anchor, head }
      const said = `${anchor} ${head}`
      if (said === this.lastCaret || this.socket?.readyState !== WebSocket.OPEN || !this.opened) return
      this.lastCaret = said
      this.socket.send(JSON.stringify({ turn: 0, version: getVersion(state), steps: [], caret }))
    }, 150)
  }
}

/** Whether steps are the same, in whatever order their parts are written. */
function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b || Array.isArray(a) !== Array.isArray(b)) return false
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>]
  const keys = Object.keys(x).filter((k) => x[k] !== undefined)
  return keys.length === Object.keys(y).filter((k) => y[k] !== undefined).length && keys.every((k) => same(x[k], y[k]))
}

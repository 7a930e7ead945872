import { computed, onBeforeUnmount, ref, shallowReactive, shallowRef, triggerRef, watch } from 'vue'
import type { Schemas } from '../../api/client'
import type { Page } from './page'

/** Somebody else in the call: what is heard and seen of them, once their page is connected with this one. */
export interface Caller {
  page: string
  person: string
  name: string
  mic: boolean
  camera: boolean
  stream: MediaStream
  stands: 'connecting' | 'connected'
}

/** What pages say to each other until they are connected. */
type Said = { description: RTCSessionDescriptionInit } | { candidate: RTCIceCandidateInit }

/** How long somebody who is not told of any more is waited for: their line may have broken for a moment. */
const patience = 6000

/** Another page of the call, and the way there. The one with the greater name makes the offer (RFC 8829). */
class Peer {
  readonly stream = new MediaStream()
  private readonly way: RTCPeerConnection
  private waiting: RTCIceCandidateInit[] = []
  gone?: ReturnType<typeof setTimeout>

  constructor(
    servers: RTCIceServer[],
    private readonly offers: boolean,
    private readonly tracks: () => (MediaStreamTrack | null)[],
    private readonly say: (said: Said) => void,
    changed: () => void,
  ) {
    this.way = new RTCPeerConnection({ iceServers: servers })
    this.way.onicecandidate = ({ candidate }) => candidate && say({ candidate: candidate.toJSON() })
    this.way.ontrack = ({ track }) => {
      this.stream.addTrack(track)
      changed()
    }
    this.way.onconnectionstatechange = () => {
      if (this.way.connectionState === 'failed' && offers) void this.offer(true)
      changed()
    }
    if (!offers) return
    for (const kind of ['audio', 'video']) this.way.addTransceiver(kind)
    void this.offer()
  }

  get connected() {
    return this.way.connectionState === 'connected'
  }

  private async offer(again = false) {
    await this.send()
    await this.way.setLocalDescription(await this.way.createOffer({ iceRestart: again }))
    this.say({ description: this.way.localDescription! })
  }

  /** Sends what is heard and seen of oneself now: that takes no new agreement. */
  async send() {
    const [sound, picture] = this.tracks()
    for (const t of this.way.getTransceivers()) {
      if (t.receiver.track.kind === 'audio') await t.sender.replaceTrack(sound ?? null)
      else await t.sender.replaceTrack(picture ?? null)
    }
  }

  async hear(said: Said) {
    if ('candidate' in said) {
      if (this.way.remoteDescription) await this.way.addIceCandidate(said.candidate)
      else this.waiting.push(said.candidate)
      return
    }
    if (said.description.type === 'offer' && this.offers) return
    await this.way.setRemoteDescription(said.description)
    for (const candidate of this.waiting.splice(0)) await this.way.addIceCandidate(candidate)
    if (said.description.type !== 'offer') return
    for (const t of this.way.getTransceivers()) t.direction = 'sendrecv'
    await this.send()
    await this.way.setLocalDescription()
    this.say({ description: this.way.localDescription! })
  }

  close() {
    clearTimeout(this.gone)
    this.way.close()
  }
}

/** A small call beside what is written: from page to page, with voices and, for who wants, pictures. */
export function useCall(page: Page) {
  const inIt = ref(false)
  const mic = ref(true)
  const camera = ref(false)
  /** What did not work here: no microphone, no camera, no line. */
  const wrong = ref<'' | 'none' | 'noPicture' | 'lineNeeded'>('')
  const own = shallowRef<MediaStream>()
  const peers = shallowReactive(new Map<string, Peer>())
  const changes = ref(0)
  const can = computed(() => !!page.opening.value?.call && 'RTCPeerConnection' in window && page.stands.value !== 'ended')
  const others = computed(() => page.people.value.filter((p) => p.call && p.page !== page.page))
  /** By which name one is known here. */
  const called = computed(() => page.people.value.find((p) => p.page === page.page)?.name ?? '')
  const voices = computed<Caller[]>(() =>
    changes.value < 0
      ? []
      : others.value.map((p) => {
          const peer = peers.get(p.page)
          return {
            page: p.page,
            person: p.id,
            name: p.name,
            mic: p.call!.mic,
            camera: p.call!.camera,
            stream: peer?.stream ?? new MediaStream(),
            stands: peer?.connected ? 'connected' : 'connecting',
          }
        }),
  )
  const track = (kind: 'audio' | 'video') => own.value?.getTracks().find((t) => t.kind === kind) ?? null

  function peer(other: string): Peer {
    const have = peers.get(other)
    if (have) return have
    const ways = page.opening.value?.call
    const servers = ways?.addresses.length ? [{ urls: ways.addresses, username: ways.name, credential: ways.password }] : []
    const say = (said: Said) => page.ring({ act: 'signal', to: other, data: JSON.stringify(said) })
    const made = new Peer(
      servers,
      page.page > other,
      () => [track('audio'), track('video')],
      say,
      () => changes.value++,
    )
    peers.set(other, made)
    return made
  }

  function drop(other: string) {
    peers.get(other)?.close()
    peers.delete(other)
    changes.value++
  }

  /** Everybody in the call is gone to; who is not in it any more is let go after a while. */
  watch([others, inIt], () => {
    if (!inIt.value) return
    const there = new Set(others.value.map((p) => p.page))
    for (const other of there) {
      const p = peer(other)
      clearTimeout(p.gone)
      p.gone = undefined
    }
    for (const [other, p] of peers) if (!there.has(other)) p.gone ??= setTimeout(() => drop(other), patience)
  })

  page.hears((s: Schemas['CallSignalled']) => {
    if (!inIt.value) return
    try {
      void peer(s.from)
        .hear(JSON.parse(s.data) as Said)
        .catch(() => drop(s.from))
    } catch {
      // What is no signal is nothing.
    }
  })

  const tell = () => page.ring({ act: 'join', mic: mic.value && !!track('audio'), camera: !!track('video') })
  // A line that broke and came back: the others are told anew.
  watch(page.stands, (now) => {
    if (!inIt.value) return
    if (now === 'live') tell()
    if (now === 'ended') end()
  })

  async function join() {
    wrong.value = ''
    try {
      own.value = await navigator.mediaDevices.getUserMedia({ audio: true })
    } catch {
      own.value = new MediaStream()
      wrong.value = 'none'
    }
    mic.value = !!track('audio')
    inIt.value = true
    if (tell()) return
    end()
    wrong.value = 'lineNeeded'
  }

  function mute(on: boolean) {
    mic.value = !on
    const sound = track('audio')
    if (sound) sound.enabled = !on
    tell()
  }

  async function show(on: boolean) {
    wrong.value = ''
    const picture = track('video')
    if (!on && picture) {
      picture.stop()
      own.value?.removeTrack(picture)
    } else if (on && !picture) {
      try {
        const [fresh] = (await navigator.mediaDevices.getUserMedia({ video: { width: 320, height: 240, frameRate: 15 } })).getVideoTracks()
        if (fresh && inIt.value) own.value?.addTrack(fresh)
        else fresh?.stop()
      } catch {
        wrong.value = 'noPicture'
      }
    }
    camera.value = !!track('video')
    triggerRef(own)
    await Promise.all([...peers.values()].map((p) => p.send()))
    tell()
  }

  function end() {
    inIt.value = camera.value = false
    for (const other of [...peers.keys()]) drop(other)
    own.value?.getTracks().forEach((t) => t.stop())
    own.value = undefined
  }
  function leave() {
    page.ring({ act: 'leave' })
    end()
  }
  onBeforeUnmount(end)

  return { can, inIt, mic, camera, wrong, own, called, others, voices, join, leave, mute, show }
}

export type Call = ReturnType<typeof useCall>

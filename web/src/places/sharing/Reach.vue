<script setup lang="ts">
import { useReach } from '../../queries/sharing'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import Confirm from '../../parts/Confirm.vue'
import Door from '../../parts/Door.vue'
import Failed from '../../app/Failed.vue'
import Terms from '../../parts/Terms.vue'
import LinkActs from '../links/LinkActs.vue'
import ChangeAccess from './ChangeAccess.vue'
import Consequences from './Consequences.vue'
import Why from './Why.vue'
import { useAccessWords } from './words'

/** Who can open an item and by which way, with changing and ending right there. */
const props = defineProps<{ item: string; kind: 'document' | 'folder' | 'dossier'; dossier: string }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const words = useAccessWords()
const { data: reach, error, refetch } = useReach(() => props.item)
const open = computed(() => reach.value?.links.filter((l) => l.living) ?? [])
const over = computed(() => reach.value?.links.filter((l) => !l.living) ?? [])
/** What is written under a row: its change, its end; or the closing of the item. */
const writing = ref<{ id: string; what: 'change' | 'end' | 'close' } | null>(null)
const asking = ref<{ way: string; person: Schemas['Person'] } | null>(null)
const { act, busy, wrong } = useAct()

const sum = computed(() => {
  const r = reach.value
  if (!r) return ''
  if (r.inside === 1 && !r.outside && !open.value.length && r.ways.some((w) => w.people.some((p) => p.id === store.session?.person.id)))
    return t('access.onlyYou')
  const parts = [t('access.sumInside', { n: said.count(r.inside).toLowerCase() }, r.inside)]
  if (r.outside) parts.push(t('access.sumOutside', { n: said.count(r.outside).toLowerCase() }, r.outside))
  if (open.value.length) parts.push(t('access.sumLinks', { n: said.count(open.value.length).toLowerCase() }, open.value.length))
  return t('access.sum', { who: said.list(parts) })
})
const use = (l: Schemas['Link']) =>
  l.openingsLimit ? t('slip.usedOf', { n: l.openings, limit: l.openingsLimit }) : t('slip.used', { n: l.openings }, l.openings)
const outside = (w: Schemas['Way']) => w.grant.outside || (w.people.length > 0 && w.people.every((p) => p.outside))

/** Ways that say the same about several people are one row until they are looked at one by one. */
const apart = ref(new Set<string>())
const same = (w: Schemas['Way']) =>
  w.grant.kind === 'person'
    ? [w.grant.words, w.grant.itemId, w.grant.until, w.grant.onward, w.asManager, outside(w), w.grant.invited].join('|')
    : w.grant.id
const rows = computed(() => {
  const together = new Map<string, Schemas['Way'][]>()
  for (const w of reach.value?.ways ?? []) together.set(same(w), [...(together.get(same(w)) ?? []), w])
  return [...together].flatMap(([key, ways]) =>
    ways.length === 1 || apart.value.has(key) ? ways.map((w) => ({ key: w.grant.id, ways: [w] })) : [{ key, ways }],
  )
})
const namesOf = (ways: Schemas['Way'][]) => said.list(ways.map((w) => words.who(w.grant, store.practice?.name ?? '')))
/** Where a way comes from, and what else is to be said of it; of several together only what they share. */
const origin = (w: Schemas['Way'], many: boolean) =>
  [
    w.asManager ? t('access.asManager') : words.where(w.grant, w.here),
    w.grant.invited ? t('access.invited') : w.grant.by && !many ? t('access.by', { by: w.grant.by, when: said.when(w.grant.at) }) : '',
    w.active && !many ? t('access.active', { when: said.when(w.active) }) : '',
    w.grant.onward && w.grant.level !== 'manage' ? t('access.mayOnward') : '',
  ]
    .filter(Boolean)
    .join(', ')

/** What is being written is done with when the act is. */
const change = (fn: () => Promise<unknown>, done: string, back: () => Promise<unknown>) =>
  act(() => fn().then(() => (writing.value = null)), { done, undo: { do: back, done: t('access.asBefore') } })
/** What was ended is given anew, under the same terms. */
const giveBack = ({ grant: g }: Schemas['Way']) =>
  api.POST('/access', {
    body: {
      items: [g.itemId],
      to: [{ kind: g.kind, id: g.subject }],
      level: g.level,
      may: g.level === 'own-set' ? g.may?.filter((m) => m !== 'share') : undefined,
      until: g.until,
      onward: g.onward,
    },
  })
const end = (w: Schemas['Way']) =>
  change(
    () => api.DELETE('/access/{id}', { params: { path: { id: w.grant.id } } }),
    remaining(w).length
      ? t('access.endedStill', {
          who: w.grant.name,
          by: remaining(w)
            .map((o) => words.who(o.grant, store.practice?.name ?? ''))
            .join(', '),
        })
      : t('access.ended', { who: words.who(w.grant, store.practice?.name ?? '') }),
    () => giveBack(w),
  )
function close() {
  const { item } = props
  const was = reach.value?.closed ?? false
  const put = (closed: boolean) => api.PUT('/items/{id}/closed', { params: { path: { id: item } }, body: { closed } })
  return change(
    () => put(!was),
    t(was ? 'access.isOpen' : 'access.isClosed'),
    () => put(was),
  )
}
/** The other ways by which somebody whose way is ended still comes in. */
const remaining = (w: Schemas['Way']) =>
  w.grant.kind === 'person' ? (reach.value?.ways.filter((o) => o !== w && o.people.some((p) => p.id === w.grant.subject)) ?? []) : []
function write(id: string, what: 'change' | 'end' | 'close') {
  wrong.value = ''
  writing.value = writing.value?.id === id && writing.value.what === what ? null : { id, what }
}
const whatIf = computed(() => (reach.value?.closed ? { open: props.item } : { close: props.item }))
</script>

<template>
  <section class="reach-list">
    <Failed v-if="error && !reach" :error="error" @again="refetch()" />
    <template v-else-if="reach">
      <div class="sum">
        <span>
          {{ sum }}
          <b v-if="reach.closed">{{ t('access.closedHere') }}</b>
        </span>
      </div>
      <ul class="ways">
        <li v-for="{ key, ways, ways: [w] } in rows" :key="key" :data-grant="namesOf(ways)">
          <Door :state="outside(w) ? 'ajar' : 'closed'" />
          <div>
            <div class="first">
              <span>
                <b>{{ namesOf(ways) }}</b>
                {{ t('access.may', {}, ways.length) }}
                <b>{{ w.grant.words }}</b>
              </span>
              <span class="until quiet" :title="w.grant.until && said.full(w.grant.until)">
                {{ w.grant.until ? t('access.until', { when: said.when(w.grant.until) }) : '' }}
              </span>
            </div>
            <div class="small quiet">
              {{ origin(w, ways.length > 1) }}
            </div>
            <div v-if="w.grant.kind === 'group'" class="small quiet">{{ w.people.map((p) => p.name.split(' ')[0]).join(', ') }}</div>
            <div v-if="ways.length > 1" class="acts small">
              <button type="button" class="go" @click="apart.add(key)">{{ t('access.oneByOne') }}</button>
            </div>
            <div v-else class="acts small">
              <button
                v-if="w.mayChange"
                type="button"
                class="go"
                :aria-expanded="writing?.id === w.grant.id && writing.what === 'change'"
                @click="write(w.grant.id, 'change')"
              >
                {{ t('access.changeWord') }}
              </button>
              <button
                v-if="w.mayChange"
                type="button"
                class="go"
                :aria-expanded="writing?.id === w.grant.id && writing.what === 'end'"
                @click="write(w.grant.id, 'end')"
              >
                {{ t('access.endWord') }}
              </button>
              <button v-else-if="w.grant.subject === store.session?.person.id" type="button" class="go" @click="write(w.grant.id, 'end')">
                {{ t('access.leave') }}
              </button>
              <template v-if="reach.mayManage">
                <button
                  v-for="p in w.people.slice(0, 4)"
                  :key="p.id"
                  type="button"
                  class="go"
                  :aria-expanded="asking?.way === w.grant.id && asking.person.id === p.id"
                  @click="asking = asking?.way === w.grant.id && asking.person.id === p.id ? null : { way: w.grant.id, person: p }"
                >
                  {{ w.people.length > 1 ? t('access.whyName', { name: p.name.split(' ')[0] }) : t('access.why') }}
                </button>
              </template>
            </div>
            <!-- The answer stands where it was asked. -->
            <Why
              v-if="asking && asking.way === w.grant.id"
              :key="asking.person.id"
              :item="item"
              :person="asking.person"
              :dossier="dossier"
              @close="asking = null"
            />
            <ChangeAccess
              v-if="writing?.id === w.grant.id && writing.what === 'change'"
              :grant="w.grant"
              :folder="kind !== 'document'"
              :manager="reach.mayManage"
              @done="writing = null"
            />
            <Confirm
              v-if="writing?.id === w.grant.id && writing.what === 'end'"
              :act="t('access.end')"
              :discard="t('common.discard')"
              :busy="busy"
              :wrong="wrong"
              @do="end(w)"
              @discard="writing = null"
            >
              <Consequences :what="{ end: w.grant.id }" />
              <p v-for="o in remaining(w)" :key="o.grant.id" class="still">
                {{ t('access.still', { who: w.grant.name, by: words.who(o.grant, store.practice?.name ?? ''), what: o.grant.words }) }}
                <button v-if="o.mayChange" type="button" class="go" @click="write(o.grant.id, 'end')">{{ t('access.endThat') }}</button>
              </p>
            </Confirm>
          </div>
        </li>
        <li v-for="l in open" :key="l.id" :data-link="l.name">
          <Door state="open" />
          <div>
            <b class="with-colon">{{ t('slip.link', { name: l.name }) }}</b>
            {{ use(l) }}
            <br />
            <span class="small quiet"><Terms :sentence="l.sentence" /></span>
            <LinkActs :link="l" />
          </div>
        </li>
        <li v-for="l in over" :key="l.id" class="quiet">
          <span></span>
          <span class="small">{{ t('slip.link', { name: l.name }) }}: {{ t(`outward.state_${l.state}`) }}, {{ use(l) }}</span>
        </li>
      </ul>
      <div v-if="reach.mayManage && kind !== 'dossier'" class="small">
        <button type="button" class="go" :aria-expanded="writing?.what === 'close'" @click="write(item, 'close')">
          {{ t(`access.${reach.closed ? 'openIt' : 'closeIt'}.${kind}`) }}
        </button>
        <Confirm
          v-if="writing?.what === 'close'"
          :act="t(`access.${reach.closed ? 'openIt' : 'closeIt'}.${kind}`)"
          :discard="t('common.discard')"
          :busy="busy"
          :wrong="wrong"
          @do="close"
          @discard="writing = null"
        >
          <p>{{ t(reach.closed ? 'access.openHint' : 'access.closeHint') }}</p>
          <Consequences :what="whatIf" />
        </Confirm>
      </div>
    </template>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </section>
</template>

<style scoped>
.ways li {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr);
  padding: 7px 0;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 20px;
}
.ways li:last-child {
  border-bottom: 0;
}
.ways li > .door {
  align-self: start;
  margin-top: 1px;
}
.first {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
.first b {
  font-weight: 620;
}
.until {
  white-space: nowrap;
  font-size: var(--tb-small);
}
.acts.small {
  gap: 0 14px;
  flex-wrap: wrap;
}
</style>

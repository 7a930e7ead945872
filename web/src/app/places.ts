import IconDesk from '~icons/ph/desk'
import IconPeople from '~icons/ph/users-three'
import IconDecisions from '~icons/ph/seal-check'
import IconBooks from '~icons/ph/books'
import IconClock from '~icons/ph/clock-counter-clockwise'
import IconDoor from '~icons/ph/door-open'
import IconSun from '~icons/ph/sun-horizon'
import type { Schemas } from '../api/client'

/** The places of the frame, in the order of the tabs. */
const places = [
  { key: 'today', to: '/today', icon: IconSun },
  { key: 'dossiers', to: '/dossiers', icon: IconBooks },
  { key: 'desk', to: '/desk', icon: IconDesk },
  { key: 'outward', to: '/outward', icon: IconDoor },
  { key: 'decisions', to: '/decisions', icon: IconDecisions },
  { key: 'people', to: '/people', icon: IconPeople },
  { key: 'activity', to: '/activity', icon: IconClock },
] as const

/** Those that somebody has something in: guests do not give out, and find nothing in Outward as long as they have not. */
export const placesOf = (session: Schemas['Session'] | null) =>
  places.filter((p) => p.key !== 'outward' || session?.standing !== 'guest' || session.outwardCount > 0)

/** What a place's tab counts: what is open outward, what is new on the desk, what one has to decide. */
export const countOf = (place: string, session: Schemas['Session'] | null) =>
  (place === 'outward' && session?.outwardCount) ||
  (place === 'desk' && onDesk(session)) ||
  (place === 'decisions' && session?.decisions) ||
  0

/** What is new on the desk: what one was given, and what came from outside. */
export const onDesk = (session: Schemas['Session'] | null) => (session ? session.newGiven + session.received : 0)

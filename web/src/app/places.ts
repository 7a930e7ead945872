import IconBooks from '~icons/ph/books'
import IconClock from '~icons/ph/clock-counter-clockwise'
import IconDoor from '~icons/ph/door-open'
import IconSun from '~icons/ph/sun-horizon'

/** The places of the frame, in the order of the tabs. */
export const places = [
  { key: 'today', to: '/today', icon: IconSun },
  { key: 'dossiers', to: '/dossiers', icon: IconBooks },
  { key: 'outward', to: '/outward', icon: IconDoor },
  { key: 'activity', to: '/activity', icon: IconClock },
] as const

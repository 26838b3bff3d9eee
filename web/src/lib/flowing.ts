import { useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { Sample } from '@/api/types'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useLooking } from './looking'
import { joined } from './streams'

const MOST = 20_000
/** How often the axis of time moves on, in ms. */
const PICTURE = 50

/** What goes through a link, as it goes, along one axis of time that can be stopped and stepped back. */
export function useFlowing(link: () => string) {
  const home = useHome()
  const notices = useNotices()
  const samples = shallowRef<Sample[]>([])
  /** From when on samples are shown: those before were cleared away. */
  const since = ref(0)
  const seconds = ref(10)
  /** Where the axis ends while it is stopped; it moves on by itself while this is absent. */
  const stopped = ref<number>()
  const now = ref(home.moment())

  async function read() {
    const id = link()
    await notices.attempt(async () => {
      const kept = await ask(api.GET('/api/links/{id}/samples', { params: { path: { id }, query: {} } }))
      if (id === link()) samples.value = joined(kept, samples.value, MOST)
    })
  }
  home.onFlow(({ link: of, samples: more }) => {
    if (of === link()) samples.value = joined(samples.value, more, MOST)
  })
  home.onFlowing(read)
  useLooking('flow')
  watch(link, () => {
    samples.value = []
    since.value = 0
    stopped.value = undefined
    void read()
  })
  void read()
  useIntervalFn(() => (now.value = home.moment()), PICTURE)

  const MS = 1000
  const end = computed(() => stopped.value ?? now.value)
  const span = computed(() => ({ from: end.value - seconds.value * MS, to: end.value }))
  const shown = computed(() => samples.value.filter((s) => Date.parse(s.at) >= since.value))
  /** How far back there is anything to step to. */
  const oldest = computed(() => (shown.value[0] ? Date.parse(shown.value[0].at) : now.value))
  return {
    samples: shown,
    span,
    seconds,
    stopped,
    oldest,
    now,
    pause: () => void (stopped.value = stopped.value === undefined ? home.moment() : undefined),
    clear: () => void (since.value = home.moment()),
  }
}

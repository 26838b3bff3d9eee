<script setup lang="ts">
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink, RouterView, useRoute } from 'vue-router'
import AppRail from '@/components/shell/AppRail.vue'
import DayLine from '@/components/shell/DayLine.vue'
import UnsentBar from '@/components/documents/UnsentBar.vue'
import NoticeBar from '@/components/shell/NoticeBar.vue'
import PlaceParts from '@/components/shell/PlaceParts.vue'
import EmptyPage from '@/components/page/EmptyPage.vue'
import { partAt } from '@/lib/places'
import LooksAs from '@/components/people/LooksAs.vue'
import { Problem } from '@/api/client'
import { readAhead, router } from '@/router'
import { useFavorites } from '@/stores/favorites'
import { useHome } from '@/stores/home'
import { useNotices } from '@/stores/notices'
import { useSession } from '@/stores/session'
import { useVisit } from '@/stores/visit'

/** Not needed for the first picture; read once the home is, so that they are there when the hub is not. */
const later = {
  palette: () => import('@/components/shell/SearchPalette.vue'),
  keys: () => import('@/components/shell/KeysDialog.vue'),
}
const SearchPalette = defineAsyncComponent(later.palette)
const KeysDialog = defineAsyncComponent(later.keys)
const GuestHome = defineAsyncComponent(() => import('@/components/people/GuestHome.vue'))

/** The owner's and the members' home: rail, day line, parts, page. Guests have their dashboards alone. */
const home = useHome()
const session = useSession()
const notices = useNotices()
const visit = useVisit()
const favorites = useFavorites()

const route = useRoute()
/** Pages for setting up are not for those who operate the home. */
const notYours = computed(() => !session.setsUp && !!partAt(route.path)?.setsUp)

const searching = ref(false)
/** Whether the palette is there, open or not. */
const palette = ref(false)
/** What is typed for the palette before its field has the focus. */
const early = ref('')
/** Whether Enter was pressed by then. */
const taken = ref(false)
watch(searching, () => {
  early.value = ''
  taken.value = false
})
const keys = ref(false)

function typing(event: KeyboardEvent): boolean {
  const at = event.target as HTMLElement
  return at.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName)
}

function onKey(event: KeyboardEvent) {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    searching.value = !searching.value
  } else if (searching.value && !typing(event)) {
    if (event.key.length === 1) early.value += event.key
    else if (event.key === 'Backspace') early.value = early.value.slice(0, -1)
    else if (event.key === 'Enter') {
      event.preventDefault()
      taken.value = true
    }
  } else if (typing(event)) {
    return
  } else if (event.key === '?') {
    keys.value = true
  } else if (event.key === '/') {
    event.preventDefault()
    searching.value = true
  } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !event.defaultPrevented) {
    void notices.undoLast()
  }
}

/** Once the page that was asked for has long been there. */
const otherPages = useTimeoutFn(readAhead, 5000, { immediate: false })

onMounted(() => home.join())
useEventListener('keydown', onKey)
router.onError(() => notices.fault(new Problem(0, 'This page cannot be opened while the hub cannot be reached.')))
watch(
  () => home.loaded,
  () => {
    visit.begin()
    if (!session.guest) void favorites.read().catch(() => undefined) // asked for again where they are shown
    otherPages.start()
    void later.palette().then(
      () => (palette.value = true),
      () => undefined,
    )
    void later.keys().catch(() => undefined)
  },
  { once: true },
)
onBeforeUnmount(() => home.end())
</script>

<template>
  <GuestHome
    v-if="session.guest || (session.panel && session.view?.looksAs)"
    class="bare"
    :class="{ above: session.view?.looksAs }"
  />
  <div v-else-if="$route.meta.bare" class="bare">
    <RouterView />
  </div>
  <div v-else class="frame" :class="{ above: session.view?.looksAs }">
    <a class="skip" href="#main">Skip to the page</a>
    <AppRail @keys="keys = true" @search="searching = true" />
    <DayLine @search="searching = true" />
    <PlaceParts />
    <main id="main" tabindex="-1">
      <p v-if="!home.loaded" class="soft waiting" role="status">
        {{ home.feed === 'lost' ? 'The hub cannot be reached. Trying again …' : 'Asking the hub …' }}
      </p>
      <EmptyPage v-else-if="notYours" title="This is the owner’s">
        <p>An owner of the home sees to this page.</p>
      </EmptyPage>
      <RouterView v-else />
    </main>
  </div>
  <p v-if="home.feed === 'lost' && home.loaded" class="lost" role="alert">
    The hub cannot be reached. What you see may be old; trying again …
  </p>
  <RouterLink
    v-if="home.needs.length && !$route.meta.bare && $route.path !== '/health'"
    class="needs"
    to="/health"
    role="alert"
  >
    <template v-if="home.needs.length === 1">{{ home.needs[0]!.title }}</template>
    <template v-else>{{ home.needs.length }} things need you: {{ home.needs[0]!.title }}</template>
    <span class="more">See what can be done</span>
  </RouterLink>
  <LooksAs v-if="session.view?.looksAs" />
  <SearchPalette
    v-if="(searching || palette) && !session.guest"
    v-model:open="searching"
    :early="early"
    :taken="taken"
  />
  <KeysDialog v-if="keys" v-model:open="keys" />
  <UnsentBar />
  <NoticeBar />
</template>

<style scoped>
.frame {
  height: 100%;
  display: grid;
  grid-template-columns: 118px minmax(0, 1fr);
  grid-template-rows: 64px auto minmax(0, 1fr);
}
main {
  grid-row: 3;
  min-height: 0;
  overflow: hidden;
  outline: none;
}
.bare {
  height: 100%;
}
/* Above the bar that says through whose eyes one looks. */
.above {
  height: calc(100% - var(--eyes-bar));
}
.waiting {
  padding: var(--space-44);
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 10;
  background: var(--sheet);
  padding: var(--space-6) var(--space-10);
}
.needs {
  position: fixed;
  left: 118px;
  right: 0;
  bottom: 0;
  background: var(--ember);
  color: var(--on-strong);
  padding: var(--space-10) var(--space-26);
  font-weight: 600;
  z-index: 900;
  text-decoration: none;
}
.more {
  margin-left: var(--space-12);
  font-weight: 400;
  text-decoration: underline;
}
.lost {
  position: fixed;
  left: 50%;
  bottom: 16px;
  transform: translateX(-50%);
  background: var(--ember);
  color: var(--on-strong);
  padding: var(--space-8) var(--space-16);
  border-radius: var(--radius);
  font-weight: 600;
  z-index: 2000;
}
@media (max-width: 720px) {
  .needs {
    left: 0;
    bottom: var(--foot-bar);
  }
  .lost {
    bottom: calc(var(--foot-bar) + 16px);
  }
  .frame {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: var(--foot-bar);
    grid-template-rows: auto auto minmax(0, 1fr);
  }
}
</style>

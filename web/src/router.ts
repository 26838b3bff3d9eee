import { promiseTimeout } from '@vueuse/core'
import { createRouter, createWebHistory } from 'vue-router'

declare module 'vue-router' {
  interface RouteMeta {
    title?: string
    /** Shown without rail and day line, for the household. */
    bare?: boolean
    /** The way in, also for whoever is in. */
    entrance?: boolean
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/today' },
    { path: '/today', component: () => import('./views/TodayView.vue'), meta: { title: 'Today' } },
    { path: '/hand', component: () => import('./views/HandView.vue'), meta: { title: 'At hand' } },
    { path: '/room/:id', component: () => import('./views/RoomView.vue'), meta: { title: 'Room' } },
    { path: '/found', component: () => import('./views/FoundView.vue'), meta: { title: 'Found' } },
    {
      path: '/found/describe',
      component: () => import('./views/DescribeView.vue'),
      meta: { title: 'Describe a device' },
    },
    { path: '/devices/:id?', component: () => import('./views/DevicesView.vue'), meta: { title: 'Devices' } },
    { path: '/scenes/:id?', component: () => import('./views/ScenesView.vue'), meta: { title: 'Scenes' } },
    { path: '/rules/:id?', component: () => import('./views/RulesView.vue'), meta: { title: 'Rules' } },
    { path: '/links/:id?', component: () => import('./views/LinksView.vue'), meta: { title: 'Links' } },
    { path: '/moving/:id?', component: () => import('./views/MovingView.vue'), meta: { title: 'Moving light' } },
    { path: '/curves/:id?', component: () => import('./views/CurvesView.vue'), meta: { title: 'Day curves' } },
    { path: '/lights/:id?', component: () => import('./views/LightsView.vue'), meta: { title: 'Rooms' } },
    { path: '/mirrors/:id?', component: () => import('./views/MirrorsView.vue'), meta: { title: 'Mirrors' } },
    { path: '/messages', component: () => import('./views/MessagesView.vue'), meta: { title: 'Messages' } },
    { path: '/buttons/:id?', component: () => import('./views/ButtonsView.vue'), meta: { title: 'Buttons' } },
    { path: '/schedules/:id?', component: () => import('./views/SchedulesView.vue'), meta: { title: 'Schedules' } },
    { path: '/dashboards/:id?', component: () => import('./views/DashboardsView.vue'), meta: { title: 'Dashboards' } },
    { path: '/panels', component: () => import('./views/PanelsView.vue'), meta: { title: 'Panels' } },
    { path: '/panel/:id', component: () => import('./views/PanelView.vue'), meta: { title: 'Panel', bare: true } },
    { path: '/history', component: () => import('./views/HistoryView.vue'), meta: { title: 'History' } },
    { path: '/journal', component: () => import('./views/JournalView.vue'), meta: { title: 'Journal' } },
    { path: '/profiles/:model?', component: () => import('./views/ProfilesView.vue'), meta: { title: 'Profiles' } },
    {
      path: '/connections/:id?',
      component: () => import('./views/ConnectionsView.vue'),
      meta: { title: 'Connections' },
    },
    { path: '/bench', component: () => import('./views/BenchView.vue'), meta: { title: 'Bench' } },
    { path: '/care', component: () => import('./views/CareView.vue'), meta: { title: 'Care' } },
    { path: '/household', component: () => import('./views/ModesView.vue'), meta: { title: 'Modes' } },
    {
      path: '/household/groups',
      component: () => import('./views/GroupsView.vue'),
      meta: { title: 'Groups and variables' },
    },
    {
      path: '/household/calendars',
      component: () => import('./views/CalendarsView.vue'),
      meta: { title: 'Calendars' },
    },
    {
      path: '/household/messages',
      component: () => import('./views/HouseholdMessagesView.vue'),
      meta: { title: 'Messages' },
    },
    { path: '/household/people', component: () => import('./views/PeopleView.vue'), meta: { title: 'People' } },
    { path: '/me', component: () => import('./views/MeView.vue'), meta: { title: 'You' } },
    {
      path: '/enter',
      component: () => import('./views/NowhereView.vue'),
      meta: { title: 'Come in', entrance: true },
    },
    { path: '/reach', component: () => import('./views/ReachView.vue'), meta: { title: 'On your network' } },
    { path: '/rooms', component: () => import('./views/RoomsView.vue'), meta: { title: 'Rooms' } },
    { path: '/house', component: () => import('./views/HouseView.vue'), meta: { title: 'House' } },
    { path: '/keys', component: () => import('./views/KeysView.vue'), meta: { title: 'Keys and programs' } },
    { path: '/removed', component: () => import('./views/RemovedView.vue'), meta: { title: 'Recently removed' } },
    { path: '/health', component: () => import('./views/HealthView.vue'), meta: { title: 'Health' } },
    { path: '/needs', redirect: '/health' },
    { path: '/instruments', component: () => import('./views/InstrumentsView.vue'), meta: { title: 'Instruments' } },
    { path: '/:rest(.*)*', component: () => import('./views/NowhereView.vue'), meta: { title: 'Nothing here' } },
  ],
})

router.afterEach((to) => {
  document.title = to.meta.title ? `${to.meta.title} · Amvek` : 'Amvek'
})

/** Between one page that is read ahead and the next, in ms: what is done on the page that is open goes first. */
const PAUSE = 100

/**
 * Reads the pages that were not opened yet, so that they can be opened when the hub cannot be reached: one after the other, since all
 * of them together take a browser longer than the page that somebody is waiting for. A mark among the browser's timings says that
 * all are there.
 */
export async function readAhead(): Promise<void> {
  for (const { components } of router.getRoutes()) {
    const page = components?.default
    if (typeof page !== 'function') continue
    await promiseTimeout(PAUSE)
    await (page as () => Promise<unknown>)().catch(() => undefined) // read again when it is opened
  }
  performance.mark('pages read')
}

import { createRouter, createWebHistory, type Router } from 'vue-router'
import { useSession } from './session'

/** The places of the application, and the lasting address of a document: /d/MER-24/017. */
export function makeRouter(): Router {
  const router = createRouter({
    history: createWebHistory(),
    routes: [
      { path: '/', redirect: '/today' },
      { path: '/sign-in', component: () => import('../places/signin/SignIn.vue'), meta: { open: true } },
      { path: '/enter/:token', component: () => import('../places/signin/Enter.vue'), props: true, meta: { open: true } },
      { path: '/join/:token', component: () => import('../places/signin/Join.vue'), props: true, meta: { open: true } },
      { path: '/today', component: () => import('../places/today/Today.vue'), meta: { place: 'today' } },
      { path: '/dossiers', component: () => import('../places/dossiers/Dossiers.vue'), meta: { place: 'dossiers' } },
      {
        path: '/dossiers/:code/:folder?',
        component: () => import('../places/dossier/Dossier.vue'),
        props: true,
        meta: { place: 'dossiers' },
      },
      {
        path: '/d/:code/:number',
        component: () => import('../places/dossier/LastingAddress.vue'),
        props: true,
        meta: { place: 'dossiers' },
      },
      {
        path: '/compare/:document',
        component: () => import('../places/comparison/Comparison.vue'),
        props: true,
        meta: { place: 'dossiers' },
      },
      { path: '/table/:document', component: () => import('../places/writing/Table.vue'), props: true, meta: { place: 'dossiers' } },
      { path: '/write/:document', component: () => import('../places/writing/Writing.vue'), props: true, meta: { place: 'dossiers' } },
      { path: '/fill/:document', component: () => import('../places/fillings/Fill.vue'), props: true, meta: { place: 'dossiers' } },
      { path: '/answers/:document', component: () => import('../places/fillings/Handed.vue'), props: true, meta: { place: 'dossiers' } },
      { path: '/deleted', component: () => import('../places/deletion/Deleted.vue'), meta: { place: 'desk' } },
      { path: '/desk', component: () => import('../places/desk/Desk.vue'), meta: { place: 'desk' } },
      { path: '/desk/received', component: () => import('../places/deliveries/Received.vue'), meta: { place: 'desk' } },
      { path: '/people', component: () => import('../places/people/People.vue'), meta: { place: 'people' } },
      { path: '/practice', component: () => import('../places/practice/Practice.vue'), meta: { place: 'people' } },
      { path: '/me', component: () => import('../places/me/Me.vue') },
      { path: '/outward', component: () => import('../places/outward/Outward.vue'), meta: { place: 'outward' } },
      { path: '/outward/transfers', component: () => import('../places/transfers/Transfers.vue'), meta: { place: 'outward' } },
      { path: '/outward/send', component: () => import('../places/transfers/SendFiles.vue'), meta: { place: 'outward' } },
      {
        path: '/outward/mail/:id',
        component: () => import('../places/mailing/HeldMail.vue'),
        props: true,
        meta: { place: 'outward' },
      },
      {
        path: '/outward/transfers/:id',
        component: () => import('../places/transfers/OneTransfer.vue'),
        props: true,
        meta: { place: 'outward' },
      },
      {
        path: '/decisions/:id?',
        component: () => import('../places/decisions/Decisions.vue'),
        props: true,
        meta: { place: 'decisions' },
      },
      { path: '/decide/:token', component: () => import('../places/decisions/ByMail.vue'), props: true, meta: { open: true } },
      { path: '/routes/:id', component: () => import('../places/routes/WriteRoute.vue'), props: true, meta: { place: 'decisions' } },
      { path: '/routes/:id/runs', component: () => import('../places/routes/RouteRuns.vue'), props: true, meta: { place: 'decisions' } },
      { path: '/routes', component: () => import('../places/routes/Routes.vue'), meta: { place: 'decisions' } },
      {
        path: '/signing/new/:document',
        component: () => import('../places/signing/SendPaper.vue'),
        props: true,
        meta: { place: 'decisions' },
      },
      {
        path: '/signing/forms/:id/send',
        component: () => import('../places/signing/SendForm.vue'),
        props: true,
        meta: { place: 'decisions' },
      },
      { path: '/signing/forms/:id', component: () => import('../places/signing/WriteForm.vue'), props: true, meta: { place: 'decisions' } },
      { path: '/signing/forms', component: () => import('../places/signing/Forms.vue'), meta: { place: 'decisions' } },
      { path: '/signing/many/:id', component: () => import('../places/signing/SentToMany.vue'), props: true, meta: { place: 'decisions' } },
      {
        path: '/signing/:id/places',
        component: () => import('../places/signing/CorrectPaper.vue'),
        props: true,
        meta: { place: 'decisions' },
      },
      { path: '/signing/:id/sign', component: () => import('../places/signing/SignHere.vue'), props: true, meta: { place: 'decisions' } },
      { path: '/signing/:id?', component: () => import('../places/signing/Signings.vue'), props: true, meta: { place: 'decisions' } },
      { path: '/check', component: () => import('../places/signing/CheckPaper.vue'), meta: { open: true } },
      { path: '/find', component: () => import('../places/find/Found.vue') },
      { path: '/particulars', component: () => import('../places/particulars/Particulars.vue'), meta: { place: 'people' } },
      { path: '/tags', component: () => import('../places/tags/Tags.vue') },
      { path: '/trail', component: () => import('../places/evidence/Trail.vue'), meta: { place: 'activity' } },
      { path: '/activity', component: () => import('../places/activity/Activity.vue'), meta: { place: 'activity' } },
      { path: '/:rest(.*)*', component: () => import('./Missing.vue') },
    ],
  })
  router.beforeEach((to) => {
    if (!to.meta.open && !useSession().session) return { path: '/sign-in', query: { next: to.fullPath } }
    // Who has to set up a second factor first can do nothing else.
    if (useSession().session?.needsFactor && !to.meta.open && to.path !== '/me') return { path: '/me' }
    return true
  })
  return router
}

import { createRouter, createWebHistory } from 'vue-router'
import Visitor from './Visitor.vue'

/** A visitor's places: the letter with what is enclosed, a folder of it, a document looked at. Going back leads back. */
export const router = createRouter({
  history: createWebHistory('/l/'),
  routes: [
    { path: '/:token', component: Visitor, props: true },
    { path: '/:token/in/:folder', component: Visitor, props: true },
    {
      path: '/:token/write/:document',
      component: Visitor,
      props: ({ params, query }) => ({ token: params.token, document: params.document, folder: query.in, writes: true }),
    },
    {
      path: '/:token/look/:document',
      component: Visitor,
      props: ({ params, query }) => ({ token: params.token, document: params.document, folder: query.in }),
    },
  ],
})

/** Where a folder lies; nothing for what was given itself. */
export const placeOf = (token: string, folder?: string) => (folder ? `/${token}/in/${folder}` : `/${token}`)

export default {
  notices: {
    title: 'Notices',
    label: 'Notices, {n} not seen',
    none: 'Nothing concerns you at the moment.',
    given: '{by} gives you access to {what}.',
    asked: '{by} asks to be let in: {what}.',
    used: 'The link {what} was used.',
    'handed-in': 'Papers were handed in through {what}.',
    sensitive: '{what} holds sensitive content, and a link of yours gives it out.',
    'kept-back': '{what} holds sensitive content and is kept back from a link of yours.',
    fetched: 'All was fetched: {what}.',
    delivered: '{what} sent you files.',
    missed: 'Nothing was fetched yet: {what}.',
    'not-let-in': '{by} does not let you in where you asked.',
    admitted: '{by} came into {what} through a group that they administer.',
  },
}

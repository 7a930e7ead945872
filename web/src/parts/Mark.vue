<template>
  <svg viewBox="0 0 22 24" aria-hidden="true">
    <path d="M2 2h4.5v3H9V2h4v3h2.500V2H20v6.500L17 11v5.500l3 3.500v3H2v-3l3-3.500V11L2 8.500z" />
    <path d="M21.500 6.500L.5 19" stroke="var(--tb-cut,var(--tb-band))" stroke-width="1.600" />
  </svg>
</template>

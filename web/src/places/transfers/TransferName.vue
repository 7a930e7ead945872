<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { useKept } from '../../sealed/mine'

/** The name of a transfer: that of a sealed one is known only where it was sent from. */
const props = defineProps<{ transfer: Schemas['Transfer'] }>()
const { kept } = useKept(() => props.transfer)
</script>

<template>{{ kept?.list.name || transfer.name }}</template>

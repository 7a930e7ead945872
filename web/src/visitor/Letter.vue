<script setup lang="ts">
import Mark from '../parts/Mark.vue'
import Terms from '../parts/Terms.vue'
import { useThisVisit } from './visit'
import { say } from './words'

/** At the left: the practice, who sends, what they say, and the terms. */
const { front, given, sent, filling, list, letter } = useThisVisit()
defineEmits<{ help: [] }>()
</script>

<template>
  <header class="from">
    <div class="house">
      <Mark />
      <span>
        <b>{{ front?.practice }}</b>
        <br />
        <span class="quiet small">{{ front?.tagline }}</span>
      </span>
    </div>
    <template v-if="letter">
      <div class="msg">
        <p v-if="sent?.for" class="small quiet for">{{ say('sentFor', { to: sent.for }) }}</p>
        <h1>{{ front?.kind === 'address' ? say('sendTo', { sender: letter.name }) : list?.name || letter.name }}</h1>
        <p v-if="list?.message || letter.message" class="terms letter">{{ list?.message || letter.message }}</p>
        <p class="sig">
          <span class="who">{{ letter.sender.initials }}</span>
          <span>
            <b class="with-comma">{{ letter.sender.name }}</b>
            {{ letter.sender.role }}
            <br />
            <span class="quiet small">{{ letter.sender.email }}, {{ letter.sender.phone }}</span>
          </span>
        </p>
      </div>
      <p class="terms you"><Terms :sentence="letter.sentence" /></p>
      <p class="small quiet rest">
        {{
          filling
            ? say('fillSees', { practice: front?.practice ?? '', email: filling.email })
            : given || sent
              ? say('sees', { sender: letter.sender.name })
              : say(front?.kind === 'address' ? 'untilTaken' : 'onlyThey', { practice: front?.practice ?? '', sender: letter.sender.name })
        }}
      </p>
    </template>
    <div v-else class="msg">
      <h1>
        {{
          say(front?.kind === 'fill' ? 'asksFill' : front?.kind === 'intake' ? 'asks' : front?.kind === 'address' ? 'sendTo' : 'gives', {
            sender: front?.sender ?? '',
          })
        }}
      </h1>
    </div>
    <p class="small">
      <button type="button" class="go" @click="$emit('help')">{{ say('help') }}</button>
    </p>
  </header>
</template>

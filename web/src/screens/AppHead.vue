<script setup lang="ts">
import { connected } from "../api/events";
import { helpIsOpen } from "../keys/help";
import JobsButton from "../queue/JobsButton.vue";
import { head } from "../stores/head";
import { isDark, toggleDark } from "../theme/appearance";
</script>

<template>
  <header>
    <nav class="trail" aria-label="Where you are">
      <RouterLink to="/" class="mark" aria-label="Yarn Kite, all projects">
        <img src="/kite.svg" alt="" width="26" height="26" /><span>Yarn Kite</span>
      </RouterLink>
      <template v-if="head">
        <span class="sep" aria-hidden="true">›</span>
        <RouterLink :to="{ name: 'project', params: { project: head.project.id } }">{{ head.project.name }}</RouterLink>
        <template v-if="head.inside">
          <span class="sep" aria-hidden="true">›</span>
          <strong>{{ head.inside }}</strong>
        </template>
      </template>
    </nav>
    <nav v-if="head?.tabs" class="steps" :aria-label="head.tabsAre">
      <RouterLink
        v-for="(one, index) in head.tabs"
        :key="one.words"
        :to="one.to"
        :class="{ now: one.isOpen }"
        :aria-current="one.isOpen ? 'step' : undefined"
        :title="`${index + 1}`"
        >{{ one.words
        }}<span v-if="one.isToLookAt" class="mark-warning" role="img" aria-label="something to look at"></span
      ></RouterLink>
    </nav>
    <div class="right">
      <span v-if="!connected" class="warning" role="status">The program does not answer; trying again …</span>
      <JobsButton />
      <button class="plain-button" type="button" title="For dark rooms" :aria-pressed="isDark" @click="toggleDark">
        dark
      </button>
      <button
        v-if="head?.find"
        class="plain-button"
        type="button"
        title="A control, by a word for it: /"
        @click="head.find()"
      >
        find
      </button>
      <button class="plain-button" type="button" @click="helpIsOpen = true">help</button>
    </div>
  </header>
</template>

<style scoped>
header {
  align-items: center;
  border-bottom: 1px solid var(--hair);
  display: grid;
  gap: 1.5rem;
  grid-template-columns: 1fr auto 1fr;
  height: 46px;
  padding: 0 1rem;
}

.trail {
  align-items: center;
  display: flex;
  gap: 0.5rem;
  min-width: 0;
  white-space: nowrap;
}

.trail a,
.trail strong {
  color: inherit;
  overflow: hidden;
  text-decoration: none;
  text-overflow: ellipsis;
}

.trail a:hover {
  text-decoration: underline;
}

.mark {
  align-items: center;
  display: flex;
  flex: none;
  font-family: var(--heading);
  font-weight: 650;
  gap: 0.4rem;
}

.sep {
  color: var(--soft-ink);
}

.steps {
  align-self: stretch;
  display: flex;
  gap: 0.35rem;
}

.steps a {
  align-items: center;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
  color: var(--soft-ink);
  display: flex;
  font-family: var(--heading);
  font-size: var(--type-body);
  gap: 0.3rem;
  padding: 0 0.7rem;
  text-decoration: none;
}

.steps a:hover {
  color: var(--ink);
}

.steps a.now {
  border-bottom-color: var(--line);
  color: var(--ink);
  font-weight: 650;
}

.mark-warning {
  border-bottom-width: 8px;
}

.right button[aria-pressed="true"] {
  box-shadow: inset 0 -2px 0 var(--line);
}

.right {
  grid-column: 3;
  align-items: center;
  display: flex;
  gap: 0.75rem;
  justify-content: flex-end;
}
</style>

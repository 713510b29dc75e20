<script setup lang="ts">
import type { Planned } from "../../api/client";

/** The shots that are to be taken, of which one is open. */
defineProps<{ projectId: number; list: Planned[]; openId?: number }>();
</script>

<template>
  <ol>
    <li v-for="one in list" :key="one.id">
      <RouterLink
        :to="{ name: 'plan', params: { project: projectId, plan: one.id } }"
        replace
        :class="{ open: one.id === openId }"
        :aria-current="one.id === openId ? 'true' : undefined"
      >
        <strong>{{ one.planned.name }}</strong>
        <span
          v-if="one.advice.some((said) => said.look)"
          class="mark-warning"
          role="img"
          aria-label="something to look at"
        ></span>
        <small class="quiet"
          >{{ one.starts ? `${one.starts.slice(0, 16).replace("T", " ")} · ` : "" }}{{ one.sentence }}</small
        >
      </RouterLink>
    </li>
  </ol>
</template>

<style scoped>
ol {
  display: grid;
  list-style: none;
  margin: 0;
  padding: 0;
}

li a {
  border-left: 3px solid transparent;
  border-top: 1px solid var(--hair);
  color: inherit;
  display: block;
  padding: 0.45rem 0.5rem;
  text-decoration: none;
}

li a.open {
  background: var(--bright-paper);
  border-left-color: var(--line);
}

small {
  display: block;
  font-size: var(--type-near);
}

.mark-warning {
  margin-left: 0.4rem;
}
</style>

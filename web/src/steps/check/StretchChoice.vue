<script setup lang="ts">
import { computed } from "vue";

import { api } from "../../api/client";
import { useShot } from "../../stores/shot";

const shot = useShot();
const whole = computed(() => shot.usedStretch.first === 0 && shot.usedStretch.last === shot.count - 1);

function number(position: number): string {
  return (position + 1).toLocaleString("en");
}

function use(first: number, last: number): Promise<void> {
  const at = (position: number, own: number) => (position === own ? null : shot.stills.stills[position]!.id);
  const [begin, end] = [at(first, 0), at(last, shot.count - 1)];
  shot.stretch = undefined;
  return shot.change((id, seen) => api.useStretch(id, seen, begin, end));
}
</script>

<template>
  <section aria-label="The stretch that is used">
    <h3>From where to where</h3>
    <p>
      {{
        whole
          ? "The clip runs over the whole shot."
          : `The clip uses stills ${number(shot.usedStretch.first)} to ${number(shot.usedStretch.last)}.`
      }}
      <span class="quiet">Drag over the tail with Shift, or press [ and ], to choose a stretch.</span>
    </p>
    <p class="acts">
      <button
        v-if="shot.stretch"
        type="button"
        class="plain-button"
        @click="use(shot.stretch.first, shot.stretch.last)"
      >
        use only {{ number(shot.stretch.first) }} to {{ number(shot.stretch.last) }}
      </button>
      <button
        type="button"
        class="plain-button"
        :disabled="shot.current >= shot.usedStretch.last"
        @click="use(shot.current, shot.usedStretch.last)"
      >
        begin at {{ number(shot.current) }}
      </button>
      <button
        type="button"
        class="plain-button"
        :disabled="shot.current <= shot.usedStretch.first"
        @click="use(shot.usedStretch.first, shot.current)"
      >
        end at {{ number(shot.current) }}
      </button>
      <button v-if="!whole" type="button" class="plain-button" @click="use(0, shot.count - 1)">
        use the whole shot
      </button>
    </p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 0.3rem;
}

.acts button {
  color: var(--line);
}

.acts button:disabled {
  color: var(--soft-ink);
  cursor: default;
  opacity: 0.55;
}
</style>

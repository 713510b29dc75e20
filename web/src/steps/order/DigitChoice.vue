<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";

const shot = useShot();
const groups = computed(() => shot.order?.groups ?? []);
const example = computed(() => {
  const first = groups.value[0];
  return first ? first.before + first.digits + first.after : "";
});

/** The text between one group of digits and the one before it. */
function between(index: number): string {
  const before = index ? groups.value[index - 1]! : undefined;
  return groups.value[index]!.before.slice(before ? before.before.length + before.digits.length : 0);
}
</script>

<template>
  <p v-if="groups.length > 1" class="digits">
    The digits that count in
    <span class="number example" :aria-label="example"
      ><template v-for="(group, index) in groups" :key="index"
        >{{ between(index)
        }}<button
          type="button"
          class="number"
          :class="{ chosen: shot.order!.group === index }"
          :aria-pressed="shot.order!.group === index"
          :title="`${group.values.toLocaleString('en')} different ${group.values === 1 ? 'value' : 'values'}`"
          @click="shot.decide({ order: { group: index } })"
        >
          {{ group.digits }}
        </button></template
      >{{ groups.at(-1)!.after }}</span
    >
    <button
      v-if="shot.decisions!.order.group !== null"
      type="button"
      class="plain-button back"
      @click="shot.decide({ order: { group: null } })"
    >
      find them for me
    </button>
  </p>
</template>

<style scoped>
.example {
  white-space: nowrap;
}

.example button {
  background: none;
  border: 0;
  border-bottom: 2px dotted var(--line);
  color: var(--line);
  cursor: pointer;
  padding: 0;
}

.example button.chosen {
  background: var(--line-pale);
  border-bottom-style: solid;
  font-weight: 700;
}

.back {
  color: var(--line);
}
</style>

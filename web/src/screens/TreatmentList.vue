<script setup lang="ts">
import { api, type Treatment } from "../api/client";
import { useAttempt, useSentences } from "../parts/sentences";
import { countText, listed } from "../parts/wording";
import { parts } from "./manyShots";

/** Which shots were treated like which: each can be taken back, and taken again once its model was changed. */
const props = defineProps<{ projectId: number; treatments: Treatment[]; changed: () => Promise<void> }>();

const { refusal, attempt } = useAttempt();
const { said } = useSentences();

function inWhat(one: Treatment): string {
  return listed(parts.filter(({ part }) => one.parts.includes(part)).map(({ words }) => words));
}

function which(one: Treatment): string {
  return one.names.length > 3 ? countText(one.names.length, "shot") : listed(one.names.map((name) => `“${name}”`));
}

const takeBack = (one: Treatment) =>
  attempt(async () => {
    const { changed } = await api.undoTreatment(props.projectId, one.id);
    if (changed.length) said(`${listed(changed)}: changed since, and left as that is.`);
    await props.changed();
  });

const takeAgain = (one: Treatment) =>
  attempt(async () => {
    const found = await api.tryTreatment(props.projectId, { model: one.model_id, shots: one.shots, parts: one.parts });
    await api.treat(props.projectId, {
      model: { shot: one.model_id, seen: found.model_seen },
      shots: found.shots.map((shot) => ({ shot: shot.shot_id, seen: shot.seen })),
      parts: one.parts,
    });
    await props.changed();
  });
</script>

<template>
  <section class="treatments" aria-label="Treated alike">
    <p v-for="one in treatments" :key="one.id">
      {{ which(one) }} {{ one.names.length === 1 ? "is" : "are" }} like “{{ one.model }}” in {{ inWhat(one)
      }}{{ one.is_behind ? ", which was changed since" : "" }}.
      <span class="acts">
        <button v-if="one.is_behind" type="button" class="plain-button" @click="takeAgain(one)">take it again</button>
        <button type="button" class="plain-button" @click="takeBack(one)">take back</button>
      </span>
    </p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </section>
</template>

<style scoped>
.treatments {
  display: grid;
  gap: 0.3rem;
}

.treatments p {
  align-items: baseline;
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.7rem;
}
</style>

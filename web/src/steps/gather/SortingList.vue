<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { api, type Action, type Proposal } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { useProject } from "../../stores/project";
import { useShot } from "../../stores/shot";

const actions: Record<Action, string> = {
  "set aside": "set aside",
  "own shot": "a shot of its own",
  keep: "keep in this shot",
};

const shot = useShot();
const project = useProject();
const { refusal, attempt } = useAttempt();
const said = ref("");
const picked = ref<Record<string, Action>>({});
const proposals = computed(() => shot.sorting?.proposals ?? []);

function actionOf(proposal: Proposal): Action {
  return picked.value[proposal.key] ?? proposal.action;
}

function apply(): Promise<void> {
  return attempt(async () => {
    const choices = proposals.value.map((one) => ({ key: one.key, action: actionOf(one) }));
    const done = await api.sort(shot.shot!.id, shot.revision, choices);
    picked.value = {};
    const parts = [];
    if (done.aside) parts.push(`${countText(done.aside, "still")} set aside`);
    if (done.shots.length) parts.push(`${countText(done.shots.length, "new shot")} in this project`);
    said.value = parts.length ? `${parts.join(", ")}.` : "All stay in this shot.";
    await Promise.all([shot.open(shot.shot!.id), project.load(shot.shot!.project_id)]);
  });
}
</script>

<template>
  <section v-if="proposals.length" class="sorting" aria-labelledby="sorting">
    <h3 id="sorting">Does not go with the rest</h3>
    <ul>
      <li v-for="one in proposals" :key="one.key">
        <button type="button" class="plain-button what" @click="shot.goTo(one.first)">{{ one.sentence }}</button>
        <span class="choice" role="radiogroup" :aria-label="one.sentence">
          <label v-for="(words, action) in actions" :key="action" :class="{ chosen: actionOf(one) === action }">
            <input
              type="radio"
              :name="one.key"
              :checked="actionOf(one) === action"
              @change="picked = { ...picked, [one.key]: action }"
            />{{ words }}
          </label>
        </span>
      </li>
    </ul>
    <div><Button label="Do this" class="main-action" @click="apply" /></div>
  </section>
  <p v-else-if="said" role="status">{{ said }}</p>
  <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
</template>

<style scoped>
.sorting {
  display: grid;
  gap: 0.7rem;
}

ul {
  display: grid;
  gap: 0.6rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  border-left: 3px solid var(--saffron);
  display: grid;
  gap: 0.2rem;
  padding-left: 0.5rem;
}

.what {
  overflow-wrap: anywhere;
  text-align: left;
}

.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.9rem;
  padding-left: 0.3rem;
}

label {
  align-items: center;
  color: var(--soft-ink);
  cursor: pointer;
  display: flex;
  gap: 0.3rem;
}

label.chosen {
  color: var(--ink);
  font-weight: 700;
}
</style>

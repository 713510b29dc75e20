<script setup lang="ts">
import Button from "primevue/button";
import { computed, toRef } from "vue";

import type { ClipUnderWay, ProjectDetail } from "../api/client";
import SelectField from "../parts/SelectField.vue";
import { bytesText, countText, waitText } from "../parts/wording";
import JobLine from "../queue/JobLine.vue";
import { useJobs } from "../queue/jobs";
import { parts, useManyShots } from "./manyShots";

/** What is done with the shots that are ticked: treated like another one, and their clips made. */
const props = defineProps<{ project: ProjectDetail; ticked: number[]; changed: () => Promise<void> }>();
const emit = defineEmits<{ tick: [shots: number[]] }>();

const jobs = useJobs();
const many = useManyShots(
  computed(() => props.project.id),
  toRef(props, "ticked"),
  () => props.changed(),
);
const { model, taken, tried, treats, changing, clips, making, isAsking, isBusy, refusal } = many;
const isSettled = computed(() => !isAsking.value && !isBusy.value);
const models = computed(() => [
  { id: 0, name: "no other: as they are" },
  ...props.project.shots.filter((shot) => shot.stills).map((shot) => ({ id: shot.id, name: `“${shot.name}”` })),
]);
const total = computed(
  () =>
    `${countText(clips.value.length, "clip")}, about ${waitText(many.seconds.value)}, ${bytesText(many.bytes.value)}`,
);

function jobOf(one: ClipUnderWay) {
  return jobs.all.find((job) => job.id === one.job?.id) ?? one.job;
}
</script>

<template>
  <section class="many" aria-label="The ticked shots">
    <p class="acts">
      <strong>{{ countText(ticked.length, "shot") }} ticked</strong>
      <button
        type="button"
        class="plain-button"
        @click="
          emit(
            'tick',
            project.shots.map((shot) => shot.id),
          )
        "
      >
        all
      </button>
      <button type="button" class="plain-button" @click="emit('tick', [])">none</button>
    </p>
    <div class="like">
      <SelectField
        label="to be like"
        :value="model ?? 0"
        :options="models"
        by="id"
        words="name"
        @change="model = $event || undefined"
      />
      <fieldset v-if="model">
        <legend class="for-listening">In what</legend>
        <label v-for="one in parts" :key="one.part">
          <input v-model="taken" type="checkbox" :value="one.part" /> {{ one.words }}
        </label>
      </fieldset>
    </div>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <template v-if="treats && tried.length">
      <ul aria-label="What they will be">
        <li v-for="one in tried" :key="one.shot_id">
          <strong>{{ one.name }}</strong>
          <p v-if="!one.changes" class="quiet">Is like that already.</p>
          <p v-else>{{ one.sentence }}</p>
          <p v-for="kept in one.exceptions" :key="kept" class="kept">{{ one.name }} {{ kept }}.</p>
        </li>
      </ul>
      <p class="go">
        <Button
          :label="`Treat ${countText(changing.length, 'shot')} like that`"
          class="main-action"
          :disabled="!changing.length || !isSettled"
          @click="many.treat"
        />
        <span class="quiet">Each keeps its order and what was set aside. It is taken back for all by one click.</span>
      </p>
    </template>
    <template v-else-if="!model && tried.length">
      <p class="go">
        <Button
          label="Make their clips"
          severity="secondary"
          :disabled="!clips.length || !isSettled"
          @click="many.makeClips"
        />
        <span class="quiet">{{ total }}, one after another.</span>
      </p>
      <p v-for="one in tried.filter((one) => one.cannot)" :key="one.shot_id" class="kept">
        {{ one.name }}: {{ one.cannot }}
      </p>
    </template>
    <ul v-if="making.length" aria-label="Their clips">
      <li v-for="one in making" :key="one.shot_id" class="making">
        <strong>{{ one.name }}</strong>
        <RouterLink v-if="one.is_made" :to="{ name: 'shot', params: { shot: one.shot_id, step: 'encode' } }"
          >is made as it is decided</RouterLink
        >
        <JobLine v-else-if="one.job" :job="jobOf(one)!" />
        <span v-else>{{ one.sentence }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
/* In sight wherever the shots are ticked. */
.many {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  border-top: 2px solid var(--line);
  bottom: -2rem;
  display: grid;
  gap: 0.8rem;
  margin-top: -1.5rem;
  max-height: 65vh;
  overflow: auto;
  padding: 0.9rem 1.1rem;
  position: sticky;
  z-index: 1;
}

.many > .acts {
  align-items: center;
  margin-left: 0;
}

.like {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 1.4rem;
  --field-columns: auto 15rem;
}

fieldset {
  border: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1.1rem;
  margin: 0;
  padding: 0;
}

fieldset label {
  align-items: center;
  display: flex;
  gap: 0.4rem;
  min-height: 24px;
}

ul {
  display: grid;
  gap: 0.7rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

.kept {
  border-left: 3px solid var(--saffron);
  color: var(--soft-ink);
  margin-top: 0.2rem;
  padding-left: 0.6rem;
}

.go {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0.9rem;
}

.making {
  align-items: center;
  display: grid;
  gap: 0.9rem;
  grid-template-columns: 12rem minmax(0, 1fr);
}
</style>

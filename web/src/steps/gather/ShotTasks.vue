<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";

import { api } from "../../api/client";
import AskFirst from "../../parts/AskFirst.vue";
import SelectField from "../../parts/SelectField.vue";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { isUnderWay, useJobs } from "../../queue/jobs";
import { useProject } from "../../stores/project";
import { useShot } from "../../stores/shot";

const shot = useShot();
const project = useProject();
const jobs = useJobs();
const router = useRouter();
const { refusal, attempt } = useAttempt();
const name = ref("");
const other = ref<number>();
const asking = ref(false);
const siblings = computed(() =>
  (shot.sorting?.siblings ?? []).map((one) => ({ ...one, label: `${one.name}, ${countText(one.stills, "still")}` })),
);

watch(
  () => shot.shot?.name,
  (now) => (name.value = now ?? ""),
  { immediate: true },
);

function rename(): Promise<void> {
  return attempt(async () => {
    if (!name.value.trim() || name.value === shot.shot!.name) return;
    await api.renameShot(shot.shot!.id, name.value);
    await shot.open(shot.shot!.id);
  });
}

function join(): Promise<void> {
  return attempt(async () => {
    await api.join(shot.shot!.id, other.value!);
    other.value = undefined;
    await Promise.all([shot.open(shot.shot!.id), project.load(shot.shot!.project_id)]);
  });
}

function remove(): Promise<void> {
  asking.value = false;
  return attempt(async () => {
    const { id, project_id } = shot.shot!;
    await api.deleteShot(id);
    await router.push({ name: "project", params: { project: project_id } });
  });
}

const growing = computed(() =>
  (["watch", "capture"] as const).some((kind) => isUnderWay(jobs.latest(shot.shot!.id, kind))),
);
const watchFolder = () => attempt(async () => void (await api.watchFolder(shot.shot!.id)));
const lookAgain = () => attempt(async () => void (await api.gatherAgain(shot.shot!.id)));
</script>

<template>
  <section class="tasks" aria-label="This shot">
    <label>
      Name
      <InputText v-model="name" maxlength="120" @keydown.enter="rename" @blur="rename" />
    </label>
    <div v-if="siblings.length" class="join">
      <SelectField
        name="Another shot"
        :value="other"
        :options="siblings"
        by="id"
        words="label"
        placeholder="Join with another shot"
        @change="(shot) => (other = shot)"
      />
      <Button v-if="other" label="Join" severity="secondary" @click="join" />
    </div>
    <p class="links">
      <button type="button" class="plain-button" @click="lookAgain">look for new and changed files</button>
      <button v-if="!growing" type="button" class="plain-button" @click="watchFolder">
        watch the folder and take in what comes
      </button>
      <button type="button" class="plain-button" @click="asking = true">delete this shot …</button>
    </p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <AskFirst v-model="asking" :question="`Delete “${shot.shot!.name}”?`" yes="Delete the shot" @yes="remove">
      <p>
        What was decided about it and its {{ countText(shot.clips.length, "clip") }} go{{
          shot.shot!.copied ? ", with the stills that were copied" : ""
        }}. You can take it back for 30 days, under Space.
        {{ shot.shot!.copied ? "" : "Its stills stay where they are." }}
      </p>
    </AskFirst>
  </section>
</template>

<style scoped>
.tasks {
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.7rem;
  padding-top: 0.9rem;
}

label {
  align-items: center;
  color: var(--soft-ink);
  display: grid;
  gap: 0.7rem;
  grid-template-columns: auto 1fr;
}

.join {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: minmax(0, 1fr) auto;
}

.links {
  color: var(--line);
  margin-left: -0.3rem;
}
</style>

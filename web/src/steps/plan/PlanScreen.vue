<script setup lang="ts">
import Button from "primevue/button";
import { computed, watch } from "vue";
import { useRouter } from "vue-router";

import { addresses } from "../../api/client";
import { vShown } from "../../parts/shown";
import { useHead } from "../../stores/head";
import { useProject } from "../../stores/project";
import LightPicture from "./LightPicture.vue";
import { usePlans } from "./plan";
import PlanConditions from "./PlanConditions.vue";
import { usePlanList } from "./planList";
import PlannedShots from "./PlannedShots.vue";
import PlanOnPaper from "./PlanOnPaper.vue";
import PlanSentence from "./PlanSentence.vue";

const props = defineProps<{ projectId: number; planId?: number }>();

const router = useRouter();
const project = useProject();
useHead(() => project.project && { project: project.project, inside: "plan" });
const plans = usePlans(() => props.projectId);
const { list, openId, open, refusal, load, change, keep } = plans;
const { deleted, asShot, act, add, after, remove, takeBack, step } = usePlanList(() => props.projectId, plans, show);
const shots = computed(() => (project.project?.shots ?? []).filter((one) => one.stills));
const dated = computed(() => list.value?.some((one) => one.starts));

function show(id: number | undefined): Promise<unknown> {
  return router.replace({ name: "plan", params: { project: props.projectId, plan: id } });
}

watch(
  () => props.projectId,
  async () => {
    await Promise.all([load(), act(() => project.load(props.projectId))]);
    openId.value = props.planId ?? list.value?.[0]?.id;
  },
  { immediate: true },
);
watch(
  () => props.planId,
  (id) => {
    openId.value = id ?? list.value?.[0]?.id;
    asShot.value = "";
  },
);

const rename = (name: string) => keep((planned) => ({ name: name || planned.name }));
const print = () => window.print();
</script>

<template>
  <main class="plan">
    <h1 class="for-listening">Plan</h1>
    <nav class="list" aria-label="Planned shots">
      <h2>To shoot</h2>
      <PlannedShots v-if="list?.length" :project-id="projectId" :list="list" :open-id="openId" />
      <p v-else-if="list" class="quiet">
        Nothing planned yet. Add a shot: say how long its clip shall be, and see how many stills that takes.
      </p>
      <p v-if="list" class="acts">
        <button type="button" class="plain-button" @click="add({ name: `Shot ${(list?.length ?? 0) + 1}` })">
          add a shot
        </button>
        <template v-if="open">
          <button type="button" class="plain-button" :disabled="list![0] === open" @click="step(-1)">earlier</button>
          <button type="button" class="plain-button" :disabled="list!.at(-1) === open" @click="step(1)">later</button>
          <button type="button" class="plain-button" @click="remove">take off</button>
        </template>
      </p>
      <p v-if="deleted" class="quiet">
        “{{ deleted.name }}” is off the list.
        <button type="button" class="plain-button act" @click="takeBack">put it back</button>
      </p>
      <template v-if="shots.length">
        <h3>Like one that was taken</h3>
        <p class="acts">
          <button v-for="shot in shots" :key="shot.id" type="button" class="plain-button" @click="after(shot.id)">
            {{ shot.name }}
          </button>
        </p>
      </template>
      <p v-if="list?.length" class="out">
        <a :href="addresses.planList(projectId, 'csv')" download>as CSV</a>
        <a v-if="dated" :href="addresses.planList(projectId, 'ics')" download>into a calendar</a>
        <button type="button" class="plain-button act" @click="print">print</button>
      </p>
    </nav>
    <article v-if="open" class="one">
      <input
        :key="open.id"
        v-shown="open.planned.name"
        class="name"
        maxlength="120"
        aria-label="Name of the planned shot"
        @change="rename(($event.target as HTMLInputElement).value.trim())"
      />
      <p v-if="asShot">{{ asShot }} Change the clip's length to plan another.</p>
      <PlanSentence
        :planned="open"
        @change="change"
        @lock="
          (quantity) =>
            keep(({ locked }) => ({
              locked: locked.includes(quantity) ? locked.filter((one) => one !== quantity) : [...locked, quantity],
            }))
        "
      />
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
      <div class="below">
        <section class="follows" aria-labelledby="follows">
          <h2 id="follows">What follows</h2>
          <ul>
            <li v-for="said in open.advice" :key="said.about" :class="{ look: said.look }">
              <span v-if="said.look" class="mark-warning" role="img" aria-label="look here"></span>{{ said.sentence }}
            </li>
          </ul>
          <LightPicture v-if="open.course.length" :course="open.course" />
          <p v-else class="quiet">Say where and when, and the light over the shoot is drawn here.</p>
          <RouterLink
            :to="{ name: 'capture', params: { project: projectId }, query: { plan: open.id } }"
            class="to-capture"
          >
            <Button label="Shoot it from here" class="main-action" as="span" />
          </RouterLink>
        </section>
        <PlanConditions :planned="open" @keep="keep" @interval="change('interval', $event)" />
      </div>
    </article>
    <PlanOnPaper :name="project.project?.name ?? ''" :list="list ?? []" />
  </main>
</template>

<style scoped>
.plan {
  display: grid;
  grid-template-columns: 264px minmax(0, 1fr);
  min-height: 0;
}

.list {
  align-content: start;
  border-right: 1px solid var(--hair);
  display: grid;
  gap: 0.8rem;
  overflow: auto;
  padding: 1.3rem 1rem;
}

.out {
  align-items: baseline;
  border-top: 1px solid var(--hair);
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.8rem;
  padding-top: 0.6rem;
}

.one {
  align-content: start;
  display: grid;
  gap: 1rem;
  overflow: auto;
  padding: 1.3rem 1.6rem 2rem;
}

.name {
  background: none;
  border: 0;
  border-bottom: 1px solid transparent;
  color: inherit;
  font-family: var(--heading);
  font-size: var(--type-lead);
  font-weight: 620;
  padding: 0;
  width: 100%;
}

.name:hover,
.name:focus {
  border-bottom-color: var(--line);
}

.below {
  display: grid;
  gap: 2.4rem;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
}

.follows {
  align-content: start;
  display: grid;
  gap: 0.8rem;
}

.follows ul {
  display: grid;
  gap: 0.5rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

.look {
  color: var(--saffron-ink);
}

.mark-warning {
  margin-right: 0.4rem;
}

.to-capture {
  justify-self: start;
  text-decoration: none;
}

@media print {
  .plan {
    display: block;
  }

  .list,
  .one {
    display: none;
  }
}
</style>

<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";

import { addresses, api, type PlannedShot } from "../../api/client";
import { useSentences } from "../../parts/sentences";
import { useHead } from "../../stores/head";
import { useProject } from "../../stores/project";
import LightPicture from "./LightPicture.vue";
import { usePlans } from "./plan";
import { vShown } from "../../parts/shown";
import PlanConditions from "./PlanConditions.vue";
import PlanSentence from "./PlanSentence.vue";

const props = defineProps<{ projectId: number; planId?: number }>();

const router = useRouter();
const project = useProject();
useHead(() => project.project && { project: project.project, inside: "plan" });
const { list, openId, open, refusal, load, change, keep } = usePlans(() => props.projectId);
const { refused } = useSentences();
const deleted = ref<{ id: number; name: string }>();
const asShot = ref("");
const shots = computed(() => (project.project?.shots ?? []).filter((one) => one.stills));
const dated = computed(() => list.value?.some((one) => one.starts));

function show(id: number): Promise<unknown> {
  return router.replace({ name: "plan", params: { project: props.projectId, plan: id } });
}

async function act(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    refused(error);
  }
}

function add(planned: Partial<PlannedShot>): Promise<void> {
  return act(async () => {
    const made = await api.addPlan(props.projectId, planned);
    list.value = [...(list.value ?? []), made];
    asShot.value = "";
    await show(made.id);
  });
}

function after(shot: number): Promise<void> {
  return act(async () => {
    const made = await api.planAsShot(shot);
    list.value = [...(list.value ?? []), made.plan];
    await show(made.plan.id);
    asShot.value = made.sentence;
  });
}

function remove(): Promise<void> {
  return act(async () => {
    const one = open.value!;
    const at = list.value!.indexOf(one);
    await api.deletePlan(one.id);
    deleted.value = { id: one.id, name: one.planned.name };
    list.value = list.value!.filter((other) => other !== one);
    const next = list.value[at] ?? list.value[at - 1];
    if (next) await show(next.id);
    else await router.replace({ name: "plan", params: { project: props.projectId } });
  });
}

function takeBack(): Promise<void> {
  return act(async () => {
    await api.takePlanBack(deleted.value!.id);
    await load();
    await show(deleted.value!.id);
    deleted.value = undefined;
  });
}

function step(by: number): Promise<void> {
  return act(async () => {
    const order = list.value!.map((one) => one.id);
    const at = order.indexOf(openId.value!);
    if (at + by < 0 || at + by >= order.length) return;
    order.splice(at + by, 0, ...order.splice(at, 1));
    list.value = await api.orderPlans(props.projectId, order);
  });
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
      <ol v-if="list?.length">
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
        @hold="
          (quantity) =>
            keep(({ held }) => ({
              held: held.includes(quantity) ? held.filter((one) => one !== quantity) : [...held, quantity],
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
    <section class="on-paper" aria-hidden="true">
      <h2>{{ project.project?.name }}: to shoot</h2>
      <div v-for="one in list ?? []" :key="one.id" class="shot-on-paper">
        <h3>{{ one.planned.name }}</h3>
        <p v-if="one.starts">
          {{ one.starts.slice(0, 16).replace("T", " ") }} to {{ one.ends?.slice(0, 16).replace("T", " ") }}
        </p>
        <p>{{ one.sentence }}</p>
        <ul>
          <li v-for="said in one.advice" :key="said.about">{{ said.look ? "▲ " : "" }}{{ said.sentence }}</li>
        </ul>
        <p v-if="one.planned.note">{{ one.planned.note }}</p>
      </div>
    </section>
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

.list ol {
  display: grid;
  list-style: none;
  margin: 0;
  padding: 0;
}

.list li a {
  border-left: 3px solid transparent;
  border-top: 1px solid var(--hair);
  color: inherit;
  display: block;
  padding: 0.45rem 0.5rem;
  text-decoration: none;
}

.list li a.open {
  background: var(--bright-paper);
  border-left-color: var(--line);
}

.list small {
  display: block;
  font-size: var(--type-near);
}

.out {
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
  border-bottom: 9px solid var(--saffron);
  border-left: 5px solid transparent;
  border-right: 5px solid transparent;
  display: inline-block;
  margin-right: 0.4rem;
}

.to-capture {
  justify-self: start;
  text-decoration: none;
}

.on-paper {
  display: none;
}

/* On paper stands the whole list, a shot after the other, and nothing to click. */
@media print {
  .plan {
    display: block;
  }

  .list,
  .one {
    display: none;
  }

  .on-paper {
    display: block;
  }

  .shot-on-paper {
    break-inside: avoid;
    margin-top: 1.2rem;
  }
}
</style>

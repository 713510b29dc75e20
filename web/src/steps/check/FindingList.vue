<script setup lang="ts">
import { computed, nextTick, ref } from "vue";

import { api, type Finding, type Remedy } from "../../api/client";
import { onKey } from "../../keys/keys";
import { useViewModes } from "../../stage/viewModes";
import { useShot } from "../../stores/shot";
import FindingRemedies from "./FindingRemedies.vue";
import { shownOf } from "./listing";
import { canBeTried, kindWords, remedyHints, remedyWords } from "./words";

interface Group {
  kind: Finding["kind"];
  open: Finding[];
  settled: Finding[];
  remedies: Remedy[];
}

const shot = useShot();
const modes = useViewModes();
/** Kinds of which all are shown, and those of which the settled ones are. */
const wide = ref(new Set<string>());
const unfolded = ref(new Set<string>());
/** What was settled last stays in sight until something else is: nothing moves under a button while it is pressed. */
const lingering = ref("");
const list = ref<HTMLElement>();

const groups = computed<Group[]>(() => {
  const byKind = new Map<Finding["kind"], Finding[]>();
  for (const finding of shot.check?.findings ?? [])
    byKind.set(finding.kind, [...(byKind.get(finding.kind) ?? []), finding]);
  return [...byKind].map(([kind, findings]) => {
    const open = findings.filter((one) => !one.settled);
    const shared = open[0]?.remedies.filter((remedy) => open.every((one) => one.remedies.includes(remedy))) ?? [];
    // Only one still can be the first or the last.
    const settled = findings.filter((one) => one.settled);
    return { kind, open, settled, remedies: shared.filter((one) => one !== "begin here" && one !== "end here") };
  });
});
const inOrder = computed(() => groups.value.flatMap((group) => [...group.open, ...group.settled]));
const shown = computed(() => shownOf(groups.value.map((group) => group.open.length)));

function seen(group: Group, index: number): Finding[] {
  const open = wide.value.has(group.kind) ? group.open : group.open.slice(0, shown.value[index]);
  return [...open, ...group.settled.filter((one) => unfolded.value.has(group.kind) || one.key === lingering.value)];
}

function unfold(group: Group): void {
  const kinds = new Set(unfolded.value);
  if (!kinds.delete(group.kind)) kinds.add(group.kind);
  unfolded.value = kinds;
}

function isNow(finding: Finding): boolean {
  return modes.finding?.key === finding.key;
}

function heading(group: Group): string {
  const count = group.open.length || group.settled.length;
  return `${count.toLocaleString("en")} ${kindWords[group.kind][count === 1 ? 0 : 1]}`;
}

function place(finding: Finding): string {
  if (finding.kind === "dirt") return "all";
  const [first, last] = [finding.first + 1, finding.last + 1].map((number) => number.toLocaleString("en"));
  return first === last ? first! : `${first}–${last}`;
}

function apply(findings: Finding[], remedy: Remedy | "none"): Promise<void> {
  modes.trying = undefined;
  const keys = findings.map((one) => one.key);
  lingering.value = keys.length === 1 && remedy !== "none" ? keys[0]! : "";
  return shot.change((id, revision) => api.remedy(id, revision, keys, remedy));
}

function tryOut(finding: Finding, remedy: Remedy): void {
  if (!canBeTried(remedy) || finding.settled) return;
  if (!isNow(finding)) modes.goTo(finding);
  modes.trying = remedy;
}

async function go(by: number): Promise<void> {
  const now = inOrder.value.findIndex(isNow);
  const next = inOrder.value[now < 0 ? 0 : Math.max(0, Math.min(inOrder.value.length - 1, now + by))];
  if (!next) return;
  wide.value = new Set([...wide.value, next.kind]);
  if (next.settled) unfolded.value = new Set([...unfolded.value, next.kind]);
  modes.goTo(next);
  await nextTick();
  list.value?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest" });
}

onKey((event) => {
  const key = event.key.toLowerCase();
  if (key !== "n" && key !== "p") return false;
  void go(key === "n" ? 1 : -1);
  return true;
});
</script>

<template>
  <div ref="list" class="findings">
    <section v-for="(group, index) in groups" :key="group.kind" :aria-label="heading(group)">
      <header>
        <h3>{{ heading(group) }}</h3>
        <span v-if="group.open.length > 1" class="all">
          all:
          <button
            v-for="remedy in group.remedies"
            :key="remedy"
            type="button"
            class="plain-button"
            :title="remedyHints[remedy]"
            @click="apply(group.open, remedy)"
          >
            {{ remedyWords[remedy] }}
          </button>
        </span>
        <!-- Beside the heading it takes no line of its own: what comes and goes with an answer moves nothing under a
          pointer. -->
        <button
          v-if="group.settled.length"
          type="button"
          class="plain-button how-many"
          :aria-expanded="unfolded.has(group.kind)"
          @click="unfold(group)"
        >
          {{ group.settled.length.toLocaleString("en") }} settled {{ unfolded.has(group.kind) ? "▴" : "▾" }}
        </button>
      </header>
      <ul v-if="seen(group, index).length">
        <li
          v-for="finding in seen(group, index)"
          :key="finding.key"
          :class="[`weight-${finding.severity}`, { settled: finding.settled, now: isNow(finding) }]"
        >
          <button type="button" class="finding" :aria-current="isNow(finding)" @click="modes.goTo(finding)">
            <span class="number">{{ place(finding) }}</span>
            <span>{{ finding.sentence }}</span>
          </button>
          <FindingRemedies
            :finding="finding"
            :is-now="isNow(finding)"
            @apply="apply([finding], $event)"
            @try="tryOut(finding, $event)"
            @leave="modes.trying = undefined"
          />
        </li>
      </ul>
      <button
        v-if="!wide.has(group.kind) && group.open.length > shown[index]!"
        type="button"
        class="plain-button more"
        @click="wide = new Set([...wide, group.kind])"
      >
        and {{ (group.open.length - shown[index]!).toLocaleString("en") }} more like this
      </button>
    </section>
  </div>
</template>

<style scoped>
.findings {
  display: grid;
  gap: 1.1rem;
}

header {
  align-items: center;
  min-height: calc(24px + 0.2rem);
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.8rem;
}

.all {
  color: var(--soft-ink);
  font-size: var(--type-near);
}

ul {
  display: grid;
  list-style: none;
  margin: 0.1rem 0 0;
  padding: 0;
}

li {
  border-left: 3px solid var(--saffron);
  padding: 0.15rem 0 0.25rem;
}

li.weight-3 {
  border-left-color: var(--hair);
}

li.settled {
  border-left: 3px double var(--moss);
}

li.now {
  background: var(--line-pale);
}

.finding {
  background: none;
  border: 0;
  color: inherit;
  cursor: pointer;
  display: grid;
  font: inherit;
  gap: 0.6rem;
  grid-template-columns: 3.6rem minmax(0, 1fr);
  padding: 0.15rem 0.5rem 0 0.4rem;
  text-align: left;
  width: 100%;
}

.finding .number {
  color: var(--line);
  text-align: right;
}

.settled .finding span:last-child {
  color: var(--soft-ink);
}

.all button,
.how-many,
.more {
  color: var(--line);
  font-size: var(--type-near);
}

.more {
  justify-self: start;
  margin: 0.2rem 0 0 4.3rem;
}
</style>

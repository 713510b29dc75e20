<script setup lang="ts">
import { computed, nextTick, ref } from "vue";

import { api, type Finding, type Remedy } from "../../api/client";
import { onKey } from "../../keys/keys";
import { useViewModes } from "../../stage/viewModes";
import { useShot } from "../../stores/shot";
import { canBeTried, kindWords, remedyHints, remedyWords } from "./words";

const firstFew = 6;

interface Group {
  kind: Finding["kind"];
  findings: Finding[];
  open: Finding[];
  remedies: Remedy[];
}

const shot = useShot();
const modes = useViewModes();
const wide = ref(new Set<string>());
const list = ref<HTMLElement>();

const groups = computed<Group[]>(() => {
  const byKind = new Map<Finding["kind"], Finding[]>();
  for (const finding of shot.check?.findings ?? []) byKind.set(finding.kind, [...(byKind.get(finding.kind) ?? []), finding]);
  return [...byKind].map(([kind, findings]) => {
    const open = findings.filter((one) => !one.settled);
    const shared = open[0]?.remedies.filter((remedy) => open.every((one) => one.remedies.includes(remedy))) ?? [];
    // Only one still can be the first or the last.
    return { kind, findings, open, remedies: shared.filter((one) => one !== "begin here" && one !== "end here") };
  });
});
const inOrder = computed(() => groups.value.flatMap((group) => group.findings));

function seen(group: Group): Finding[] {
  return wide.value.has(group.kind) ? group.findings : group.findings.slice(0, firstFew);
}

function isNow(finding: Finding): boolean {
  return modes.finding?.key === finding.key;
}

function heading(group: Group): string {
  const count = group.findings.length;
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
    <section v-for="group in groups" :key="group.kind" :aria-label="heading(group)">
      <header>
        <h3>{{ heading(group) }}</h3>
        <span v-if="!group.open.length" class="done">settled</span>
        <span v-else-if="group.open.length > 1" class="all">
          {{ group.open.length === group.findings.length ? "all:" : `the ${group.open.length} open:` }}
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
      </header>
      <ul>
        <li v-for="finding in seen(group)" :key="finding.key" :class="[`weight-${finding.severity}`, { settled: finding.settled, now: isNow(finding) }]">
          <button type="button" class="finding" :aria-current="isNow(finding)" @click="modes.goTo(finding)">
            <span class="number">{{ place(finding) }}</span>
            <span>{{ finding.sentence }}</span>
          </button>
          <p class="remedies">
            <template v-if="finding.settled">
              <span class="done">settled</span>
              <button type="button" class="plain-button" @click="apply([finding], 'none')">take back</button>
            </template>
            <button
              v-for="remedy in finding.remedies"
              v-else
              :key="remedy"
              type="button"
              class="plain-button"
              :title="remedyHints[remedy]"
              @pointerenter="isNow(finding) && tryOut(finding, remedy)"
              @pointerleave="modes.trying = undefined"
              @focus="tryOut(finding, remedy)"
              @blur="modes.trying = undefined"
              @click="apply([finding], remedy)"
            >
              {{ remedyWords[remedy] }}
            </button>
          </p>
        </li>
      </ul>
      <button
        v-if="group.findings.length > seen(group).length"
        type="button"
        class="plain-button more"
        @click="wide = new Set([...wide, group.kind])"
      >
        show all {{ group.findings.length.toLocaleString("en") }}
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
  align-items: baseline;
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.8rem;
}

.all,
.done {
  color: var(--soft-ink);
  font-size: 0.92rem;
}

.done {
  color: var(--moss-ink);
}

ul {
  display: grid;
  list-style: none;
  margin: 0.35rem 0 0;
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

.remedies {
  padding-left: 4.4rem;
}

.remedies button,
.all button,
.more {
  color: var(--line);
  font-size: 0.92rem;
}

.more {
  margin: 0.2rem 0 0 4.3rem;
}
</style>

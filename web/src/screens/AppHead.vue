<script setup lang="ts">
import { computed } from "vue";
import { useRoute } from "vue-router";

import { connected } from "../api/events";
import { helpIsOpen } from "../keys/help";
import { steps, isStep, type Step } from "../stores/steps";
import { useShot } from "../stores/shot";
import { useReel } from "../steps/reel/reel";
import { isTab, tabs, tabWords } from "../steps/reel/tabs";
import { useProject } from "../stores/project";
import JobsButton from "../queue/JobsButton.vue";
import { isDark, toggleDark } from "../theme/appearance";

const route = useRoute();
const shot = useShot();
const project = useProject();

const reel = useReel();
const inReel = computed(() => route.name === "reel" && reel.reel);
const tab = computed(() => (isTab(route.params.tab) ? route.params.tab : tabs[0]));
const inShot = computed(() => route.name === "shot" && shot.shot);
const step = computed<Step>(() => (isStep(route.params.step) ? route.params.step : "gather"));
const trail = computed(() => {
  if (inShot.value && shot.shot)
    return { id: shot.shot.project_id, project: shot.shot.project_name, shot: shot.shot.name };
  if (inReel.value && reel.reel)
    return { id: reel.reel.project_id, project: reel.reel.project_name, shot: reel.reel.name };
  if ((route.name === "plan" || route.name === "capture") && project.project)
    return { id: project.project.id, project: project.project.name, shot: route.name };
  if (route.name === "project" && project.project) return { id: project.project.id, project: project.project.name };
  return undefined;
});
</script>

<template>
  <header>
    <nav class="trail" aria-label="Where you are">
      <RouterLink to="/" class="mark" aria-label="Yarn Kite, all projects">
        <img src="/kite.svg" alt="" width="26" height="26" /><span>Yarn Kite</span>
      </RouterLink>
      <template v-if="trail">
        <span class="sep" aria-hidden="true">›</span>
        <RouterLink :to="{ name: 'project', params: { project: trail.id } }">{{ trail.project }}</RouterLink>
        <template v-if="trail.shot">
          <span class="sep" aria-hidden="true">›</span>
          <strong>{{ trail.shot }}</strong>
        </template>
      </template>
    </nav>
    <nav v-if="inShot" class="steps" aria-label="Steps">
      <RouterLink
        v-for="(name, index) in steps"
        :key="name"
        :to="{ name: 'shot', params: { shot: shot.shot!.id, step: name } }"
        :class="{ now: step === name }"
        :aria-current="step === name ? 'step' : undefined"
        :title="`${index + 1}`"
        >{{ name
        }}<span v-if="shot.toLookAt[name]" class="mark-warning" role="img" aria-label="something to look at"></span
      ></RouterLink>
    </nav>
    <nav v-if="inReel" class="steps" aria-label="Tabs of the reel">
      <RouterLink
        v-for="(name, index) in tabs"
        :key="name"
        :to="{ name: 'reel', params: { reel: reel.reel!.id, tab: name } }"
        :class="{ now: tab === name }"
        :aria-current="tab === name ? 'step' : undefined"
        :title="`${index + 1}`"
        >{{ tabWords[name]
        }}<span v-if="reel.toLookAt[name]" class="mark-warning" role="img" aria-label="something to look at"></span
      ></RouterLink>
    </nav>
    <div class="right">
      <span v-if="!connected" class="warning" role="status">The program does not answer; trying again …</span>
      <JobsButton />
      <button class="plain-button" type="button" title="For dark rooms" :aria-pressed="isDark" @click="toggleDark">
        dark
      </button>
      <button class="plain-button" type="button" @click="helpIsOpen = true">help</button>
    </div>
  </header>
</template>

<style scoped>
header {
  align-items: center;
  border-bottom: 1px solid var(--hair);
  display: grid;
  gap: 1.5rem;
  grid-template-columns: 1fr auto 1fr;
  height: 46px;
  padding: 0 1rem;
}

.trail {
  align-items: center;
  display: flex;
  gap: 0.5rem;
  min-width: 0;
  white-space: nowrap;
}

.trail a,
.trail strong {
  color: inherit;
  overflow: hidden;
  text-decoration: none;
  text-overflow: ellipsis;
}

.trail a:hover {
  text-decoration: underline;
}

.mark {
  align-items: center;
  display: flex;
  flex: none;
  font-family: var(--heading);
  font-weight: 650;
  gap: 0.4rem;
}

.sep {
  color: var(--soft-ink);
}

.steps {
  align-self: stretch;
  display: flex;
  gap: 0.35rem;
}

.steps a {
  align-items: center;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
  color: var(--soft-ink);
  display: flex;
  font-family: var(--heading);
  font-size: var(--type-body);
  gap: 0.3rem;
  padding: 0 0.7rem;
  text-decoration: none;
}

.steps a:hover {
  color: var(--ink);
}

.steps a.now {
  border-bottom-color: var(--line);
  color: var(--ink);
  font-weight: 650;
}

.mark-warning {
  border-bottom: 8px solid var(--saffron);
  border-left: 5px solid transparent;
  border-right: 5px solid transparent;
}

.right button[aria-pressed="true"] {
  box-shadow: inset 0 -2px 0 var(--line);
}

.right {
  grid-column: 3;
  align-items: center;
  display: flex;
  gap: 0.75rem;
  justify-content: flex-end;
}
</style>

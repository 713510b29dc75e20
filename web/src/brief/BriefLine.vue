<script setup lang="ts">
import Popover from "primevue/popover";
import { computed, ref, shallowRef, type Component } from "vue";
import { useRouter } from "vue-router";

import { useShot } from "../stores/shot";
import PresetMenu from "./PresetMenu.vue";
import VersionMenu from "./VersionMenu.vue";

interface Control {
  title: string;
  load: () => Promise<{ default: Component }>;
}

// Each is fetched when its words are clicked.
const controls: Record<string, Control> = {
  hold: { title: "How long each still stays on screen", load: () => import("../steps/pace/HoldControl.vue") },
  rate: { title: "Frames per second", load: () => import("../steps/pace/RateControl.vue") },
  how: { title: "How a still fits the frame", load: () => import("../steps/fit/HowControl.vue") },
  size: { title: "Size of the clip", load: () => import("../steps/fit/SizeControl.vue") },
  position: { title: "Which part is kept", load: () => import("../steps/fit/PositionControl.vue") },
  surround: { title: "What is around the picture", load: () => import("../steps/fit/SurroundControl.vue") },
  level: { title: "Level, turn and mirror", load: () => import("../steps/fit/LevelControl.vue") },
  thin: { title: "Which of the stills", load: () => import("../steps/pace/ThinControl.vue") },
  direction: { title: "In which direction", load: () => import("../steps/pace/DirectionControl.vue") },
  speed: { title: "Speed over the shot", load: () => import("../steps/pace/SpeedControl.vue") },
  blend: { title: "Between stills", load: () => import("../steps/pace/BlendControl.vue") },
  length: { title: "A wanted length", load: () => import("../steps/pace/LengthControl.vue") },
  quality: { title: "Quality against file size", load: () => import("../steps/encode/QualityControl.vue") },
};

const shot = useShot();
const router = useRouter();
const panel = ref<InstanceType<typeof Popover>>();
const open = ref("");
const control = computed(() => controls[open.value]);
const shown = shallowRef<Component>();

async function edit(event: MouseEvent, name: string): Promise<void> {
  // Some are decided in a step of their own.
  const step = { stills: "order", light: "light", move: "move" }[name];
  if (step) {
    void router.push({ name: "shot", params: { shot: shot.shot!.id, step } });
    return;
  }
  const words = event.currentTarget as HTMLElement;
  const loaded = await controls[name]!.load();
  open.value = name;
  shown.value = loaded.default;
  panel.value?.toggle(event, words);
}
</script>

<template>
  <section class="brief" aria-label="What will be made">
    <p v-if="shot.brief" class="sentence">
      <template v-for="(part, index) in shot.brief.parts" :key="index"
        ><button
          v-if="part.control"
          type="button"
          class="part"
          :class="{ doubtful: part.warning }"
          :title="part.warning || undefined"
          @click="edit($event, part.control)"
        >
          {{ part.text }}</button
        ><span v-else :class="{ doubtful: part.warning }" :title="part.warning || part.hint || undefined">{{
          part.text
        }}</span></template
      >
    </p>
    <p v-if="shot.refusal" class="warning" role="alert">{{ shot.refusal }}</p>
    <p v-else-if="shot.brief?.remarks.length" class="remarks">
      {{ shot.brief.remarks.join(" ") }}
      <button
        v-for="one in shot.brief.remedies"
        :key="one.name"
        type="button"
        class="plain-button remedy"
        @click="shot.decide(one.decisions)"
      >
        {{ one.name }}
      </button>
    </p>
    <p class="steps-back">
      <VersionMenu />
      <PresetMenu />
      <button type="button" class="plain-button" :disabled="!shot.canUndo" title="Ctrl Z" @click="shot.undo()">
        undo
      </button>
      <button type="button" class="plain-button" :disabled="!shot.canRedo" title="Ctrl Shift Z" @click="shot.redo()">
        redo
      </button>
    </p>
    <Popover ref="panel">
      <div v-if="control" class="panel">
        <h3>{{ control.title }}</h3>
        <component :is="shown" />
      </div>
    </Popover>
  </section>
</template>

<style scoped src="./sentence.css"></style>
<style scoped>
.brief {
  border-bottom: 1px solid var(--hair);
  padding: 0.7rem 1rem 0.75rem;
  position: relative;
}

.steps-back {
  bottom: 0.6rem;
  position: absolute;
  right: 0.8rem;
}

.steps-back :deep(> button) {
  color: var(--line);
}

.remedy {
  color: var(--line);
  text-decoration: underline;
}

.steps-back button:disabled {
  color: var(--soft-ink);
  cursor: default;
  opacity: 0.55;
}

.doubtful {
  background: var(--saffron-pale);
  border-bottom: 2px dashed var(--saffron);
}

.doubtful::after {
  color: var(--saffron-ink);
  content: " ▲";
  font-size: var(--type-mark);
  vertical-align: 0.25em;
}

.remarks {
  color: var(--soft-ink);
  margin-top: 0.2rem;
  padding-right: 19rem;
}

.panel {
  display: grid;
  gap: 0.7rem;
  max-width: 24rem;
  min-width: 19rem;
}
</style>

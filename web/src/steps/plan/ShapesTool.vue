<script setup lang="ts">
import { computed, onBeforeUnmount, ref } from "vue";

import { api } from "../../api/client";
import { frameIn, frameShapes, outsideOf } from "../../parts/frameShapes";
import { useAttempt } from "../../parts/sentences";

/** A test still, looked at in the shapes a clip may have: what each would leave of it. */
const source = ref("");
const size = ref<[number, number]>([3, 2]);
const name = ref("16:9");
const picker = ref<HTMLInputElement>();
const over = ref(false);
const { refusal, attempt } = useAttempt();

const frame = computed(() => frameIn(size.value, frameShapes[name.value]!));
const kept = computed(() => Math.round(100 * frame.value.width * frame.value.height));

function look(file: File | undefined): Promise<void> {
  over.value = false;
  return attempt(async () => {
    if (!file) return;
    const picture = await api.testStill(file);
    const bitmap = await createImageBitmap(picture);
    size.value = [bitmap.width, bitmap.height];
    bitmap.close();
    forget();
    source.value = URL.createObjectURL(picture);
  });
}

function pick(event: Event): void {
  const input = event.target as HTMLInputElement;
  void look(input.files?.[0]).then(() => (input.value = ""));
}

function forget(): void {
  if (source.value) URL.revokeObjectURL(source.value);
}
onBeforeUnmount(forget);
</script>

<template>
  <div
    class="shapes"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="look($event.dataTransfer?.files[0])"
  >
    <div v-if="source" class="view" :style="{ aspectRatio: `${size[0]} / ${size[1]}` }">
      <img :src="source" alt="The test still" draggable="false" />
      <svg viewBox="0 0 1000 1000" preserveAspectRatio="none" aria-hidden="true">
        <path fill-rule="evenodd" :d="outsideOf(frame)" />
      </svg>
    </div>
    <p v-if="source" class="acts" role="group" aria-label="Shape that is looked at">
      <button
        v-for="(_, one) in frameShapes"
        :key="one"
        type="button"
        class="plain-button"
        :aria-pressed="one === name"
        @click="name = String(one)"
      >
        {{ one }}
      </button>
    </p>
    <p v-if="source" role="status">{{ name }} shows {{ kept }} % of it.</p>
    <p class="acts">
      <button type="button" class="plain-button" @click="picker?.click()">
        {{ source ? "another test still …" : "look at shapes on a test still …" }}
      </button>
    </p>
    <input ref="picker" type="file" hidden aria-label="A test still" @change="pick" />
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </div>
</template>

<style scoped>
.shapes {
  border: 1px dashed var(--hair);
  border-radius: var(--round-wide);
  display: grid;
  gap: 0.4rem;
  padding: 0.5rem 0.7rem;
}

.shapes.over {
  background: var(--line-pale);
  border-color: var(--line);
}

.view {
  max-height: 16rem;
  max-width: 100%;
  position: relative;
}

.view img,
.view svg {
  display: block;
  height: 100%;
  inset: 0;
  position: absolute;
  width: 100%;
}

path {
  fill: var(--outside-picture);
}
</style>

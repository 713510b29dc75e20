<script setup lang="ts">
import { useDebounceFn } from "@vueuse/core";
import Button from "primevue/button";
import InputNumber from "primevue/inputnumber";
import { computed, ref, shallowRef, watch } from "vue";

import { api, type FilmFile, type Footage, type ShotStarted, type Taking } from "../api/client";
import { useAttempt } from "../parts/sentences";
import { countText } from "../parts/wording";
import type { Into } from "./upload";

/** Stills out of a film, gathered as a shot of a project. */
const props = defineProps<{ into: Into; film: FilmFile; name: string }>();
const emit = defineEmits<{ made: [started: ShotStarted]; close: [] }>();

type Way = "every_s" | "every_frames" | "count";

const ways: Record<Way, { before: string; after: string; least: number; digits: number }> = {
  every_s: { before: "one every", after: "seconds", least: 0.01, digits: 2 },
  every_frames: { before: "one every", after: "frames", least: 1, digits: 0 },
  count: { before: "", after: "in all", least: 1, digits: 0 },
};

const way = ref<Way | "film">("every_s");
const values = ref<Record<Way, number>>({ every_s: 1, every_frames: 10, count: 300 });
const footage = shallowRef<Footage>();
const { refusal, attempt } = useAttempt();
const begin = ref(0);
const end = ref<number>();
const taking = computed<Taking>(() => ({
  ...(way.value === "film" ? { every_frames: 1 } : { [way.value]: values.value[way.value] }),
  from_s: begin.value,
  ...(end.value ? { until_s: end.value } : {}),
}));

const look = useDebounceFn(
  () =>
    attempt(async () => {
      footage.value = await api.footage(props.film, taking.value);
    }),
  120,
);

function take(): Promise<void> {
  return attempt(async () => {
    const project = typeof props.into === "number" ? props.into : await props.into(props.name);
    emit("made", await api.gatherFootage(project, props.film, taking.value));
  });
}

watch(taking, look, { immediate: true });
</script>

<template>
  <section class="footage" aria-label="Take stills from footage">
    <h3>Take in {{ name }}</h3>
    <p v-if="footage" class="quiet">
      {{ footage.length }} at {{ footage.rate }} fps, {{ footage.width }} × {{ footage.height }}.
      <template v-if="footage.sound">Its sound can be laid under it in a reel.</template>
    </p>
    <p v-for="said in footage?.remarks" :key="said" class="remark">{{ said }}</p>
    <label :class="{ chosen: way === 'film' }">
      <input v-model="way" type="radio" name="way" value="film" />
      every frame, as film at its true speed
    </label>
    <label v-for="(one, name) in ways" :key="name" :class="{ chosen: way === name }">
      <input v-model="way" type="radio" name="way" :value="name" />
      {{ one.before }}
      <InputNumber
        v-model="values[name]"
        :min="one.least"
        :max="20000"
        :max-fraction-digits="one.digits"
        :use-grouping="false"
        input-class="number short"
        :aria-label="`${one.before} ${one.after}`"
        @focus="way = name"
        @input="values[name] = ($event.value as number) || values[name]"
      />
      {{ one.after }}
    </label>
    <p class="stretch">
      from
      <InputNumber
        v-model="begin"
        :min="0"
        :max="Math.max(0, (footage?.seconds ?? 0) - 0.01)"
        :max-fraction-digits="2"
        :use-grouping="false"
        input-class="number short"
        aria-label="From which second"
        @input="begin = ($event.value as number) || 0"
      />
      to
      <InputNumber
        v-model="end"
        :min="0.01"
        :max-fraction-digits="2"
        :use-grouping="false"
        input-class="number short"
        :placeholder="footage ? `${footage.seconds.toFixed(2)}` : ''"
        aria-label="To which second"
        @input="end = ($event.value as number) || undefined"
      />
      seconds
    </p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <div class="actions">
      <Button
        :label="footage ? `Take ${countText(footage.stills, 'still')}` : 'Take stills'"
        class="main-action"
        :disabled="!footage || refusal !== ''"
        @click="take"
      />
      <Button label="Leave it" severity="secondary" @click="$emit('close')" />
    </div>
  </section>
</template>

<style scoped>
.footage {
  display: grid;
  gap: 0.5rem;
}

label {
  align-items: center;
  display: flex;
  gap: 0.45rem;
}

.stretch {
  align-items: center;
  display: flex;
  gap: 0.45rem;
}

.remark {
  border-left: 3px solid var(--saffron);
  padding-left: 0.6rem;
}

.stretch :deep(.short),
label :deep(.short) {
  padding: 0.15rem 0.4rem;
  width: 5rem;
}

.actions {
  display: flex;
  gap: 0.7rem;
  margin-top: 0.3rem;
}
</style>

<script setup lang="ts">
import { computed, ref } from "vue";

import { api } from "../../api/client";
import AskFirst from "../../parts/AskFirst.vue";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { useShot } from "../../stores/shot";

/** What was rated here, written into sidecars beside the stills, where other programs find it. */
type ToWrite = Awaited<ReturnType<typeof api.ratingsToWrite>>;

const shot = useShot();
const { refusal, attempt } = useAttempt();
const asked = ref(false);
const found = ref<ToWrite>();
const done = ref("");
const rated = computed(() => shot.decisions?.check.rated.length ?? 0);

const look = () =>
  attempt(async () => {
    await shot.settle();
    found.value = await api.ratingsToWrite(shot.shot!.id);
    done.value = found.value.files ? "" : [found.value.sentence, ...found.value.refused].join(" ");
    asked.value = found.value.files > 0;
  });

const write = () =>
  attempt(async () => {
    const { files } = await api.writeRatings(shot.shot!.id, found.value!.digest);
    done.value = `${countText(files, "sidecar")} written.`;
  });
</script>

<template>
  <div v-if="rated" class="beside">
    <button type="button" class="plain-button act" @click="look">Write the ratings beside the stills …</button>
    <p v-if="done" role="status" class="quiet">{{ done }}</p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <AskFirst
      v-if="found"
      v-model="asked"
      question="Write the ratings?"
      :yes="`Write ${countText(found.files, 'file')}`"
      @yes="write"
    >
      <p>{{ found.sentence }}</p>
      <p v-for="said in found.refused" :key="said" class="warning">{{ said }}</p>
    </AskFirst>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  gap: 0.4rem;
  justify-items: start;
}

.act {
  color: var(--line);
}
</style>

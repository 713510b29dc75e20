<script setup lang="ts">
import { ref } from "vue";

import { api } from "../../api/client";
import { useShot } from "../../stores/shot";
import { useLight } from "./light";

const shot = useShot();
const light = useLight();
const sentence = ref("");
const reading = ref("");
const file = ref<HTMLInputElement>();

async function follow(): Promise<void> {
  const chosen = file.value?.files?.[0];
  if (!chosen || light.still === undefined) return;
  const at = shot.current;
  [sentence.value, reading.value] = ["", chosen.name];
  try {
    await shot.change(async (id, seen) => {
      const found = await api.followPicture(id, at, seen, chosen);
      sentence.value = found.sentence;
      if (found.position !== at) shot.goTo(found.position);
      return found.revised;
    });
  } finally {
    reading.value = "";
    if (file.value) file.value.value = "";
  }
}
</script>

<template>
  <section>
    <h2>Like a picture</h2>
    <p class="quiet words">
      Was a still of this shot developed elsewhere? Brightness and colour are set until it looks like that here, for the
      whole shot.
    </p>
    <p class="acts">
      <button type="button" class="plain-button act" :disabled="reading !== ''" @click="file?.click()">
        follow a developed picture
      </button>
      <input
        ref="file"
        type="file"
        accept="image/*,.tif,.tiff"
        aria-label="Picture that is followed"
        hidden
        @change="follow"
      />
    </p>
    <p v-if="reading" role="status" class="quiet">Holding “{{ reading }}” against the still …</p>
    <p v-else-if="sentence" role="status" class="words">{{ sentence }}</p>
  </section>
</template>

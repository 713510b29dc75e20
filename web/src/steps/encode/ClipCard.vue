<script setup lang="ts">
import Button from "primevue/button";

import { ref } from "vue";

import { addresses, api, type Clip } from "../../api/client";
import AskFirst from "../../parts/AskFirst.vue";
import { useAttempt } from "../../parts/sentences";
import { bytesText } from "../../parts/sizes";

const props = defineProps<{ clip: Clip }>();
const emit = defineEmits<{ play: []; gone: [] }>();

const { refusal, attempt } = useAttempt();
const asking = ref(false);

function remove(): Promise<void> {
  return attempt(async () => {
    await api.deleteClip(props.clip.id);
    emit("gone");
  });
}
</script>

<template>
  <article class="clip">
    <p v-if="!clip.differences.length" class="verified"><span aria-hidden="true">✓</span> verified</p>
    <div v-else class="warning" role="alert">
      <p>This clip is not as planned. Encode it again.</p>
      <ul>
        <li v-for="difference in clip.differences" :key="difference">{{ difference }}</li>
      </ul>
    </div>
    <h3>{{ clip.name }}</h3>
    <p class="quiet">{{ clip.summary }}, {{ bytesText(clip.bytes) }}</p>
    <div class="actions">
      <Button label="Play" severity="secondary" :aria-label="`Play ${clip.name}`" @click="emit('play')" />
      <a :href="addresses.download(clip.id)" :download="clip.name">Download</a>
      <button type="button" class="plain-button" :aria-label="`Delete ${clip.name}`" @click="asking = true">delete …</button>
    </div>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <AskFirst v-model="asking" question="Delete this clip?" yes="Delete the clip" @yes="remove">
      <p>The file {{ clip.name }}, {{ bytesText(clip.bytes) }}, goes for good. What was decided stays, so it can be encoded again.</p>
    </AskFirst>
  </article>
</template>

<style scoped>
.clip {
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.3rem;
  padding-top: 0.9rem;
}

.actions {
  align-items: center;
  display: flex;
  gap: 1rem;
  margin-top: 0.3rem;
}

.verified {
  background: var(--moss-pale);
  border-radius: 3px;
  color: var(--moss-ink);
  font-weight: 700;
  justify-self: start;
  padding: 0.05rem 0.55rem;
}

h3 {
  overflow-wrap: anywhere;
}

ul {
  margin: 0;
  padding-left: 1.2rem;
}
</style>

<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { addresses, api, type Clip, type ClipChanges } from "../../api/client";
import AskFirst from "../../parts/AskFirst.vue";
import { useAttempt } from "../../parts/sentences";
import { bytesText, listed } from "../../parts/wording";

const props = defineProps<{ clip: Clip; others?: readonly Clip[]; changed?: ClipChanges }>();
const emit = defineEmits<{ play: []; gone: []; anew: []; compare: [clips: [Clip, Clip]] }>();

const { refusal, attempt } = useAttempt();
const asking = ref(false);
const copied = ref(false);
/** Another one to compare with: one of as many frames, which can be laid over each other, or else the one before. */
const alike = computed(() => {
  const others = props.others?.filter((one) => one.id !== props.clip.id) ?? [];
  return others.filter((one) => one.frames === props.clip.frames).concat(others);
});
/** Whether what was changed since is one thing, and not several or, as stills and titles, many. */
const isOne = computed(() => props.changed?.changed.length === 1 && !/[^s]s$/.test(props.changed.changed[0]!));

function remove(): Promise<void> {
  return attempt(async () => {
    await api.deleteClip(props.clip.id);
    emit("gone");
  });
}

function copySnippet(): Promise<void> {
  return attempt(async () => {
    await navigator.clipboard.writeText(await api.snippet(props.clip.id));
    copied.value = true;
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
    <div v-if="changed" class="changed" role="status">
      Since it was made, {{ listed(changed.changed) }} {{ isOne ? "was" : "were" }} changed.
      <button
        v-if="changed.is_open"
        type="button"
        class="plain-button act"
        :aria-label="`Make ${clip.name} anew`"
        @click="emit('anew')"
      >
        make it anew
      </button>
      <span v-else class="quiet">It is of a version that is not open.</span>
    </div>
    <h3>{{ clip.name }}</h3>
    <p class="quiet">{{ clip.summary }}, {{ bytesText(clip.bytes) }}</p>
    <p v-if="clip.evidence" class="evidence">{{ clip.evidence }}</p>
    <p v-if="clip.path" class="quiet path">in {{ clip.path }}</p>
    <div class="actions">
      <Button label="Play" severity="secondary" :aria-label="`Play ${clip.name}`" @click="emit('play')" />
      <a v-if="!clip.path" :href="addresses.download(clip.id)" :download="clip.name">Download</a>
      <button
        v-if="alike[0]"
        type="button"
        class="plain-button"
        :aria-label="`Compare ${clip.name} with ${alike[0].name}`"
        @click="emit('compare', [clip, alike[0]])"
      >
        compare
      </button>
      <button type="button" class="plain-button" :aria-label="`Delete ${clip.name}`" @click="asking = true">
        delete …
      </button>
    </div>
    <details>
      <summary>for a web page</summary>
      <p class="acts">
        <button type="button" class="plain-button" @click="copySnippet">
          {{ copied ? "copied" : "copy what the page needs" }}
        </button>
        <a :href="addresses.poster(clip.id, 0)" :download="`${clip.name.replace(/\.[^.]+$/, '')}.jpg`"
          >its first frame as a picture</a
        >
      </p>
    </details>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <AskFirst v-model="asking" question="Delete this clip?" yes="Delete the clip" @yes="remove">
      <p v-if="clip.path">It goes from this list; the file in {{ clip.path }} stays.</p>
      <p v-else>
        The file {{ clip.name }}, {{ bytesText(clip.bytes) }}, goes for good. What was decided stays, so it can be
        encoded again.
      </p>
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

.clip p {
  margin: 0;
}

.actions {
  align-items: center;
  display: flex;
  gap: 1rem;
  margin-top: 0.3rem;
}

.verified {
  background: var(--moss-pale);
  border-radius: var(--round);
  color: var(--moss-ink);
  font-weight: 700;
  justify-self: start;
  padding: 0.05rem 0.55rem;
}

.changed {
  border-left: 3px solid var(--saffron);
  padding-left: 0.6rem;
}

.evidence {
  color: var(--moss-ink);
}

summary {
  color: var(--soft-ink);
  cursor: pointer;
}

h3,
.path {
  overflow-wrap: anywhere;
}

ul {
  margin: 0;
  padding-left: 1.2rem;
}
</style>

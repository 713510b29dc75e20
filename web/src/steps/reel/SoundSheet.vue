<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { api, type MadeKind, type ProjectSound, type Track } from "../../api/client";
import { useRead } from "../../api/queries";
import SelectField from "../../parts/SelectField.vue";
import { useAttempt } from "../../parts/sentences";
import JobLine from "../../queue/JobLine.vue";
import { isUnderWay, useJobs } from "../../queue/jobs";
import { nextId, seconds, useReel } from "./reel";
import TrackDetail from "./TrackDetail.vue";

const reel = useReel();
const jobs = useJobs();
const { refusal, attempt } = useAttempt();
const sound = computed(() => reel.decisions!.sound);
const sounds = computed(() => new Map(reel.sounds.map((one) => [one.id, one])));
const coming = computed(() =>
  jobs
    .ofReel(reel.reel!.id, "sound")
    .filter((job, place) => isUnderWay(job) || (place === 0 && job.state === "failed")),
);
const picker = ref<HTMLInputElement>();
const over = ref(false);
const sending = ref("");
const { answer: kinds, refusal: unread } = useRead(() => ({ key: ["kinds of made sound"], query: api.madeKinds }));
const seed = ref(1);
const loudnesses = [
  { lufs: -14, words: "−14 LUFS, for pages that play sound loud" },
  { lufs: -16, words: "−16 LUFS, for the web" },
  { lufs: -23, words: "−23 LUFS, for broadcast (EBU R 128)" },
  { lufs: null, words: "as it is, only kept from clipping" },
];

async function send(files: Iterable<File>): Promise<void> {
  over.value = false;
  for (const file of files) {
    await attempt(async () => {
      sending.value = file.name;
      await api.sendSound(reel.reel!.id, file);
    });
  }
  sending.value = "";
}

async function pick(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  await send([...(input.files ?? [])]);
  input.value = "";
}

function makeUp(kind: MadeKind): Promise<void> {
  const length = Math.max(4, Math.ceil(reel.frames / reel.rate));
  return attempt(async () => {
    await api.makeSound(reel.reel!.id, { kind: kind.kind as never, seconds: length, seed: seed.value });
    seed.value += 1;
  });
}

function again(soundId: number): void {
  const id = nextId(sound.value.tracks);
  const track: Track = {
    id,
    sound: soundId,
    start: 0,
    skip: 0,
    length: null,
    repeats: false,
    splices: [],
    gain_db: 0,
    fade_in: 0,
    fade_out: 0,
    duck_db: 0,
    muted: false,
  };
  void reel.decide((now) => ({ sound: { ...now.sound, tracks: [...now.sound.tracks, track] } }));
  reel.track = id;
}

function forget(one: ProjectSound): Promise<void> {
  return attempt(async () => {
    await api.deleteSound(one.id);
    reel.sounds = reel.sounds.filter((other) => other.id !== one.id);
  });
}

function remove(id: number): void {
  void reel.decide((now) => ({ sound: { ...now.sound, tracks: now.sound.tracks.filter((one) => one.id !== id) } }));
}

const tooQuiet = computed(
  () =>
    sound.value.loudness !== null &&
    typeof reel.playback?.loudness === "number" &&
    Math.abs(reel.playback.loudness - sound.value.loudness) > 0.3,
);
const comesTo = computed(() => {
  const { loudness, true_peak: peak, loudness_known: known } = reel.playback ?? {};
  if (!sound.value.tracks.length || !known) return "";
  if (typeof loudness !== "number" || typeof peak !== "number") return "Nothing is heard.";
  const said = `It comes to ${minus(loudness)} LUFS, its true peak to ${minus(peak)} dBTP.`;
  return tooQuiet.value ? `${said} It is too quiet, or too uneven, to be brought further.` : said;
});
const minus = (value: number) => value.toFixed(1).replace("-", "−");
const unused = computed(() => reel.sounds.filter((one) => !sound.value.tracks.some((track) => track.sound === one.id)));
const nameOf = (track: Track) => sounds.value.get(track.sound)?.name ?? "a sound that is gone";
const begins = (track: Track) => {
  const at = sounds.value.get(track.sound)?.begins ?? null;
  return at !== null && track.skip !== at ? at : null;
};
const lengthText = (value: number) =>
  value < 60
    ? `${value.toFixed(1)} s`
    : `${Math.floor(value / 60)} min ${String(Math.round(value % 60)).padStart(2, "0")} s`;
</script>

<template>
  <div
    class="sheet-column"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="send([...($event.dataTransfer?.files ?? [])])"
  >
    <section>
      <h2>Sound</h2>
      <p v-if="refusal || unread" class="warning" role="alert">{{ refusal || unread }}</p>
      <ul v-if="sound.tracks.length" class="list" aria-label="Sounds under the reel">
        <li v-for="track in sound.tracks" :key="track.id" :class="{ worked: track.id === reel.track }">
          <div class="row">
            <button
              type="button"
              class="plain-button name"
              :aria-expanded="track.id === reel.track"
              @click="reel.track = reel.track === track.id ? undefined : track.id"
            >
              <strong>{{ nameOf(track) }}</strong>
              <span class="number quiet"
                >{{ lengthText(sounds.get(track.sound)?.seconds ?? 0) }}{{ track.muted ? ", silent" : "" }}</span
              >
            </button>
            <button
              type="button"
              class="plain-button act"
              :aria-label="`take out ${nameOf(track)}`"
              @click="remove(track.id)"
            >
              take out
            </button>
          </div>
          <p v-for="sentence in reel.remarksOf('track', track.id)" :key="sentence" class="warning">{{ sentence }}</p>
          <p v-if="begins(track) !== null" class="acts">
            <button
              type="button"
              class="plain-button"
              @click="reel.decide(reel.changeTrack(track.id, { skip: begins(track)! }))"
            >
              begin where it gets going, at {{ lengthText(seconds(begins(track)!)) }}
            </button>
          </p>
          <TrackDetail v-if="track.id === reel.track" :track="track" />
        </li>
      </ul>
      <p v-else class="quiet">The reel is silent. Drop a sound here, or have one made up.</p>
      <JobLine v-for="job in coming" :key="job.id" :job="job" />
      <p v-if="sending" class="quiet" role="status">Sending “{{ sending }}” …</p>
      <div class="drop" :class="{ over }">
        <Button label="Choose sounds …" class="main-action" @click="picker?.click()" />
        <span class="quiet">or drop them here: WAV, FLAC, MP3, AAC, Opus, Ogg, or a video for its sound</span>
      </div>
      <input
        ref="picker"
        type="file"
        multiple
        accept="audio/*,video/*,.flac,.opus,.ogg"
        hidden
        aria-label="Sound files"
        @change="pick"
      />
    </section>
    <section>
      <h3>Made up, free to use</h3>
      <p class="acts">
        <button
          v-for="kind in kinds"
          :key="kind.kind"
          type="button"
          class="plain-button"
          :disabled="!reel.frames"
          @click="makeUp(kind)"
        >
          {{ kind.name }}
        </button>
      </p>
      <p class="quiet">As long as the reel. Each time another one.</p>
    </section>
    <section v-if="unused.length">
      <h3>Not used here</h3>
      <ul class="list" aria-label="Sounds of the project that this reel does not use">
        <li v-for="one in unused" :key="one.id" class="row">
          <span
            >{{ one.name }} <span class="number quiet">{{ lengthText(one.seconds) }}</span></span
          >
          <span class="acts">
            <button type="button" class="plain-button" :aria-label="`put in ${one.name}`" @click="again(one.id)">
              put in
            </button>
            <button type="button" class="plain-button" :aria-label="`delete ${one.name}`" @click="forget(one)">
              delete
            </button>
          </span>
        </li>
      </ul>
    </section>
    <section>
      <h3>How loud</h3>
      <SelectField
        name="Loudness of the whole"
        :value="sound.loudness"
        :options="loudnesses"
        by="lufs"
        words="words"
        @change="reel.decide((now) => ({ sound: { ...now.sound, loudness: $event } }))"
      />
      <p v-if="comesTo" :class="tooQuiet ? 'warning' : 'quiet'" role="status">{{ comesTo }}</p>
    </section>
  </div>
</template>

<style src="../sheet.css"></style>
<style scoped src="./detail.css"></style>
<style scoped>
.drop {
  align-items: center;
  border: 1px dashed var(--hair);
  border-radius: var(--round-wide);
  display: grid;
  gap: 0.6rem;
  grid-template-columns: auto 1fr;
  padding: 0.7rem;
}

.drop.over {
  background: var(--line-pale);
  border-color: var(--line);
}
</style>

<script setup lang="ts">
import { computed } from "vue";

import { addresses } from "../api/client";
import { useViewModes } from "./viewModes";
import { useShot } from "../stores/shot";
import StagePicture from "./StagePicture.vue";

const props = defineProps<{ width: number }>();

const shot = useShot();
const modes = useViewModes();

interface Pane {
  key: string;
  title: string;
  position: number | undefined;
  address: string | undefined;
  treated?: string;
}

const wanted = computed(() => Math.min(1280, Math.max(320, Math.ceil(props.width / 320) * 320)));
const found = computed(() => {
  const finding = modes.finding;
  return finding && shot.shown >= finding.first && shot.shown <= finding.last ? finding : undefined;
});

function asUsed(position: number, title: string): Pane {
  const still = shot.stills.stills[position];
  if (!still) return { key: title, title, position: undefined, address: undefined };
  const treated =
    shot.mended.get(still.id) ?? (shot.aside.has(still.id) ? "set aside" : still.away ? "file away" : undefined);
  return { key: title, title, position, address: modes.usedAddress(still, wanted.value), treated };
}

/** The place between two stills of which one or more are missing. */
function gap(first: number, last: number): Pane {
  const still = shot.stills.stills[first]!;
  const filled = shot.decisions!.check.filled.some((fill) => fill.after === still.id);
  const address =
    filled || modes.trying === "fill"
      ? addresses.tried(shot.shot!.id, still, shot.revision, "fill", { first, last }, wanted.value)
      : undefined;
  return { key: "it", title: filled ? "put in" : address ? "as put in" : "missing here", position: undefined, address };
}

function middle(): Pane {
  const of = found.value ?? { first: shot.shown, last: shot.shown };
  const own = asUsed(shot.shown, "it");
  const still = shot.stills.stills[shot.shown];
  if (!still || !modes.trying || modes.trying === "fill") return own;
  const address = addresses.tried(shot.shot!.id, still, shot.revision, modes.trying, of, wanted.value);
  return { ...own, address, treated: modes.trying === "bridge" ? "as bridged" : "as repeated" };
}

const panes = computed<Pane[]>(() => {
  if (modes.mode === "three") {
    return modes.threePositions.map((position, index) => ({
      ...asUsed(position, ["first", "middle", "last"][index]!),
      key: String(index),
    }));
  }
  if (found.value?.kind === "missing") {
    const { first, last } = found.value;
    return [asUsed(first, "before"), gap(first, last), asUsed(last, "after")];
  }
  const { first, last } = found.value ?? { first: shot.shown, last: shot.shown };
  return [asUsed(first - 1, "before"), middle(), asUsed(last + 1, "after")];
});

function put(index: number): void {
  modes.three = modes.three.map((one, at) => (at === index ? shot.current : one));
}
</script>

<template>
  <div class="several">
    <figure v-for="(pane, index) in panes" :key="pane.key" :class="{ it: modes.mode === 'beside' && index === 1 }">
      <StagePicture
        v-if="pane.address"
        :address="pane.address"
        :words="`${pane.title}: still ${(pane.position ?? 0) + 1}`"
      />
      <p v-else class="empty">{{ modes.mode === "beside" && index === 1 ? "nothing" : "no still" }}</p>
      <figcaption>
        <button
          v-if="modes.mode === 'three'"
          type="button"
          class="plain-button"
          title="show the still of the tail here"
          @click="put(index)"
        >
          still {{ (pane.position! + 1).toLocaleString("en") }}
        </button>
        <template v-else>
          <span>{{ pane.title }}</span>
          <span v-if="pane.position !== undefined" class="number">{{ (pane.position + 1).toLocaleString("en") }}</span>
        </template>
        <span v-if="pane.treated" class="treated">{{ pane.treated }}</span>
      </figcaption>
    </figure>
    <p v-if="modes.mode === 'three'" class="hint">
      Choose a still on the tail, then the number under a picture to see it there.
    </p>
  </div>
</template>

<style scoped>
.several {
  align-content: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  height: 100%;
  width: 100%;
}

figure {
  display: grid;
  grid-template-rows: minmax(0, auto) auto;
  justify-items: center;
  margin: 0;
  min-height: 0;
}

/* The one in question is seen large, its neighbours below it. */
figure.it {
  grid-column: 1 / -1;
  grid-row: 1;
}

figcaption {
  background: var(--paper);
  border-radius: 0 0 3px 3px;
  display: flex;
  font-size: var(--type-small);
  gap: 0.5rem;
  margin-top: 1px;
  padding: 0.05rem 0.5rem;
}

figcaption button {
  color: var(--line);
  padding: 0;
  text-decoration: underline;
}

.treated {
  color: var(--saffron-ink);
}

.empty,
.hint {
  background: var(--paper);
  border-radius: var(--round);
  color: var(--soft-ink);
  padding: 0.5rem 0.8rem;
}

.hint {
  grid-column: 1 / -1;
  justify-self: center;
}
</style>

<script setup lang="ts">
import Button from "primevue/button";

import AnswerFields from "./AnswerFields.vue";
import NowPreview from "./NowPreview.vue";
import { questions, steps, titles, useNow } from "./now";
import WhereQuestion from "./WhereQuestion.vue";

/** The short way: five questions fill the page from the left; each answer is one of the full steps. */
const now = useNow();
const { at, folder, each, music, answers, proposals, making, clip, started, gathered, said, refusal } = now;
const { next, go, projectFor, copied } = now;

/** Enter goes on from wherever it means nothing else: a button or a link does what it says. */
function enter(event: KeyboardEvent): void {
  const field = event.target as HTMLElement;
  if (field.closest("button, a, summary, select, textarea")) return;
  // What was typed last counts: a field says that it was changed once it is left.
  field.blur();
  field.focus();
  void next();
}
</script>

<template>
  <main class="now" @keydown.enter="enter">
    <h1 class="for-listening">Make a clip now</h1>
    <ol class="questions">
      <li
        v-for="(question, index) in questions.slice(0, at + 1)"
        :key="question"
        :class="{ active: index === at && !making && !clip }"
      >
        <button
          v-if="index !== at || making || clip"
          type="button"
          class="answered"
          :disabled="Boolean(making || clip)"
          @click="go(index)"
        >
          <small class="quiet">{{ titles[question] }}</small>
          <strong>{{ said[question] }}</strong>
          <small class="quiet">{{ steps[question] }}</small>
        </button>
        <form v-else class="plain-form" @submit.prevent>
          <h2>{{ titles[question] }}</h2>
          <WhereQuestion
            v-if="question === 'where'"
            v-model="folder"
            v-model:each="each"
            :project-for="projectFor"
            @copied="copied"
          />
          <AnswerFields v-else v-model="answers" v-model:music="music" :question="question" :proposals="proposals" />
          <p v-if="started.length > 1 && question !== 'where'" class="quiet">
            Each of the {{ started.length }} clips is made so; the first is shown.
          </p>
          <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
          <div class="on">
            <Button
              :label="
                index < questions.length - 1
                  ? 'Go on'
                  : started.length > 1
                    ? `Make ${started.length} clips`
                    : 'Make the clip'
              "
              class="main-action"
              type="button"
              :disabled="
                (question === 'where' && !folder?.stills && !folder?.folders.length) ||
                (index === questions.length - 1 && !gathered)
              "
              @click="next"
            />
            <span class="quiet"
              >or Enter. It lives in <em>{{ steps[question] }}</em>.</span
            >
          </div>
        </form>
      </li>
    </ol>
    <NowPreview :now="now" />
  </main>
</template>

<style scoped>
.now {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  min-height: 0;
}

.questions {
  display: flex;
  list-style: none;
  margin: 0;
  min-height: 0;
  overflow: auto;
  padding: 0;
}

.questions li {
  border-right: 1px solid var(--hair);
}

.questions li.active {
  background: var(--bright-paper);
}

.answered {
  align-content: start;
  background: none;
  border: 0;
  color: inherit;
  cursor: pointer;
  display: grid;
  font: inherit;
  gap: 0.3rem;
  height: 100%;
  padding: 1.4rem 0.7rem;
  text-align: left;
  width: 104px;
}

.answered:disabled {
  cursor: default;
}

.answered strong {
  overflow-wrap: anywhere;
}

form {
  align-content: start;
  display: grid;
  gap: 1rem;
  padding: 1.4rem 1.2rem;
  width: 340px;
}

h2 {
  font-size: var(--type-large);
}

.on .main-action {
  flex: none;
  white-space: nowrap;
}

.on {
  align-items: center;
  display: flex;
  gap: 0.9rem;
}
</style>

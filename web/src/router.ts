import { createRouter, createWebHistory } from "vue-router";

import { isStep } from "./screens/steps";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "projects", component: () => import("./screens/projects/ProjectsScreen.vue") },
    {
      path: "/projects/:project(\\d+)",
      name: "project",
      component: () => import("./screens/project/ProjectScreen.vue"),
      props: (route) => ({ projectId: Number(route.params.project) }),
    },
    {
      path: "/shots/:shot(\\d+)/:step?",
      name: "shot",
      component: () => import("./screens/shot/ShotScreen.vue"),
      props: (route) => ({
        shotId: Number(route.params.shot),
        step: isStep(route.params.step) ? route.params.step : "gather",
      }),
    },
    { path: "/space", name: "space", component: () => import("./screens/space/SpaceScreen.vue") },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});

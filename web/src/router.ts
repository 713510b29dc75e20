import { createRouter, createWebHistory } from "vue-router";

import { isTab } from "./steps/reel/tabs";
import { isStep } from "./stores/steps";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "projects", component: () => import("./screens/ProjectsScreen.vue") },
    {
      path: "/projects/:project(\\d+)",
      name: "project",
      component: () => import("./screens/ProjectScreen.vue"),
      props: (route) => ({ projectId: Number(route.params.project) }),
    },
    {
      path: "/projects/:project(\\d+)/plan/:plan(\\d+)?",
      name: "plan",
      component: () => import("./steps/plan/PlanScreen.vue"),
      props: (route) => ({
        projectId: Number(route.params.project),
        planId: route.params.plan ? Number(route.params.plan) : undefined,
      }),
    },
    {
      path: "/projects/:project(\\d+)/capture/:shot(\\d+)?",
      name: "capture",
      component: () => import("./steps/capture/CaptureScreen.vue"),
      props: (route) => ({
        projectId: Number(route.params.project),
        shotId: route.params.shot ? Number(route.params.shot) : undefined,
        planId: route.query.plan ? Number(route.query.plan) : undefined,
      }),
    },
    {
      path: "/projects/:project(\\d+)/card",
      name: "card",
      component: () => import("./steps/gather/CardScreen.vue"),
      props: (route) => ({ projectId: Number(route.params.project) }),
    },
    {
      path: "/shots/:shot(\\d+)/:step?",
      name: "shot",
      component: () => import("./screens/ShotScreen.vue"),
      props: (route) => ({
        shotId: Number(route.params.shot),
        step: isStep(route.params.step) ? route.params.step : "gather",
      }),
    },
    {
      path: "/reels/:reel(\\d+)/:tab?",
      name: "reel",
      component: () => import("./steps/reel/ReelScreen.vue"),
      props: (route) => ({
        reelId: Number(route.params.reel),
        tab: isTab(route.params.tab) ? route.params.tab : "order",
      }),
    },
    { path: "/now", name: "now", component: () => import("./steps/now/ClipNow.vue") },
    { path: "/queue", name: "queue", component: () => import("./screens/QueueScreen.vue") },
    { path: "/space", name: "space", component: () => import("./screens/SpaceScreen.vue") },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});

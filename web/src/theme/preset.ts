import { definePreset } from "@primeuix/themes";
import Nora from "@primeuix/themes/nora";

const lineBlue = {
  50: "#eef5f8",
  100: "#d6e6ee",
  200: "#aecddb",
  300: "#7fafc4",
  400: "#4c8ba7",
  500: "#1f5f7a",
  600: "#1b546c",
  700: "#17475b",
  800: "#123a4a",
  900: "#0d2a36",
  950: "#081b23",
};

const warmGrey = {
  0: "#fbfaf8",
  50: "#f4f2ee",
  100: "#ebe8e2",
  200: "#dedad2",
  300: "#cbc6bc",
  400: "#a49e93",
  500: "#7d786e",
  600: "#625e57",
  700: "#4a4743",
  800: "#34332f",
  900: "#23262b",
  950: "#15171a",
};

/** Paper, hairlines and ink: the product's own look for every component in use. */
export const kitePreset = definePreset(Nora, {
  primitive: {
    borderRadius: { none: "0", xs: "2px", sm: "2px", md: "3px", lg: "4px", xl: "6px" },
  },
  semantic: {
    primary: lineBlue,
    transitionDuration: "0.12s",
    focusRing: { width: "2px", style: "solid", color: "{primary.500}", offset: "2px", shadow: "none" },
    formField: {
      paddingX: "0.6rem",
      paddingY: "0.34rem",
      borderRadius: "{border.radius.md}",
      focusRing: { width: "2px", style: "solid", color: "{primary.500}", offset: "1px", shadow: "none" },
    },
    colorScheme: {
      light: {
        surface: warmGrey,
        primary: { color: "{primary.500}", contrastColor: "#ffffff", hoverColor: "{primary.600}", activeColor: "{primary.700}" },
        highlight: {
          background: "{primary.100}",
          focusBackground: "{primary.100}",
          color: "{primary.800}",
          focusColor: "{primary.900}",
        },
        text: { color: "#23262b", hoverColor: "#15171a", mutedColor: "#625e57", hoverMutedColor: "#4a4743" },
        formField: {
          background: "#fbfaf8",
          borderColor: "#a49e93",
          hoverBorderColor: "#625e57",
          focusBorderColor: "{primary.500}",
          color: "#23262b",
          placeholderColor: "#7d786e",
        },
        content: { background: "#fbfaf8", borderColor: "#dedad2" },
        overlay: {
          select: { background: "#fbfaf8", borderColor: "#a49e93" },
          popover: { background: "#fbfaf8", borderColor: "#a49e93" },
          modal: { background: "#f4f2ee", borderColor: "#a49e93" },
        },
      },
    },
  },
  components: {
    button: { root: { paddingX: "0.9rem", paddingY: "0.38rem", label: { fontWeight: "700" } } },
    togglebutton: {
      root: { padding: "0.3rem 0.75rem", borderRadius: "{border.radius.md}", fontWeight: "400" },
      colorScheme: {
        light: {
          root: {
            background: "transparent",
            checkedBackground: "{primary.100}",
            hoverBackground: "{surface.100}",
            borderColor: "#a49e93",
            checkedBorderColor: "{primary.500}",
            color: "#4a4743",
            hoverColor: "#23262b",
            checkedColor: "{primary.800}",
          },
          content: { checkedBackground: "transparent" },
        },
      },
    },
    slider: {
      track: { size: "3px", background: "#cbc6bc", borderRadius: "2px" },
      range: { background: "{primary.500}" },
      handle: {
        width: "12px",
        height: "18px",
        borderRadius: "3px",
        background: "{primary.500}",
        content: { width: "2px", height: "10px", borderRadius: "1px", background: "#fbfaf8", hoverBackground: "#fbfaf8", shadow: "none" },
      },
    },
    progressbar: { root: { height: "6px", borderRadius: "3px", background: "#dedad2" }, value: { background: "{primary.500}" } },
    popover: { root: { borderRadius: "{border.radius.lg}", shadow: "0 6px 24px rgb(35 38 43 / 0.16)", arrowOffset: "1rem" } },
    tooltip: { root: { background: "#23262b", color: "#f4f2ee", padding: "0.35rem 0.6rem", borderRadius: "3px" } },
  },
});

import { definePreset } from "@primeuix/themes";
import base from "@primeuix/themes/nora/base";
import button from "@primeuix/themes/nora/button";
import dialog from "@primeuix/themes/nora/dialog";
import inputnumber from "@primeuix/themes/nora/inputnumber";
import inputtext from "@primeuix/themes/nora/inputtext";
import popover from "@primeuix/themes/nora/popover";
import progressbar from "@primeuix/themes/nora/progressbar";
import ripple from "@primeuix/themes/nora/ripple";
import selectbutton from "@primeuix/themes/nora/selectbutton";
import slider from "@primeuix/themes/nora/slider";
import toast from "@primeuix/themes/nora/toast";
import togglebutton from "@primeuix/themes/nora/togglebutton";
import virtualscroller from "@primeuix/themes/nora/virtualscroller";

// Of the components in use alone: those of all that there are would be as large as the rest of the first page.
const used = {
  ...base,
  components: {
    button,
    dialog,
    inputnumber,
    inputtext,
    popover,
    progressbar,
    ripple,
    selectbutton,
    slider,
    toast,
    togglebutton,
    virtualscroller,
  },
};

function between(one: string, share: number, other = "paper"): string {
  return `color-mix(in srgb, var(--${one}) ${share}%, var(--${other}))`;
}

const lineBlue = {
  50: between("line-pale", 45),
  100: "var(--line-pale)",
  200: between("line", 35),
  300: between("line", 55),
  400: between("line", 80),
  500: "var(--line)",
  600: "var(--line-dark)",
  700: "var(--line-dark)",
  800: "var(--line-ink)",
  900: "var(--line-ink)",
  950: "var(--line-ink)",
};

const warmGrey = {
  0: "var(--bright-paper)",
  50: "var(--paper)",
  100: "var(--shade)",
  200: between("hair", 60, "shade"),
  300: "var(--hair)",
  400: "var(--edge)",
  500: "var(--soft-ink)",
  600: "var(--soft-ink)",
  700: "var(--ink)",
  800: "var(--ink)",
  900: "var(--ink)",
  950: "var(--ink)",
};

/** Paper, hairlines and ink: the product's own look for every component in use. */
export const kitePreset = definePreset(used, {
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
        primary: {
          color: "{primary.500}",
          contrastColor: "var(--on-line)",
          hoverColor: "{primary.600}",
          activeColor: "{primary.700}",
        },
        highlight: {
          background: "{primary.100}",
          focusBackground: "{primary.100}",
          color: "{primary.800}",
          focusColor: "{primary.900}",
        },
        text: {
          color: "var(--ink)",
          hoverColor: "var(--ink)",
          mutedColor: "var(--soft-ink)",
          hoverMutedColor: "var(--ink)",
        },
        formField: {
          background: "var(--bright-paper)",
          borderColor: "var(--edge)",
          hoverBorderColor: "var(--soft-ink)",
          focusBorderColor: "{primary.500}",
          color: "var(--ink)",
          placeholderColor: "var(--soft-ink)",
        },
        content: { background: "var(--bright-paper)", borderColor: "var(--hair)" },
        overlay: {
          select: { background: "var(--bright-paper)", borderColor: "var(--edge)" },
          popover: { background: "var(--bright-paper)", borderColor: "var(--edge)" },
          modal: { background: "var(--paper)", borderColor: "var(--edge)" },
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
            borderColor: "var(--edge)",
            checkedBorderColor: "{primary.500}",
            color: "var(--ink)",
            hoverColor: "var(--ink)",
            checkedColor: "{primary.800}",
          },
          content: { checkedBackground: "transparent" },
        },
      },
    },
    slider: {
      track: { size: "3px", background: "var(--hair)", borderRadius: "2px" },
      range: { background: "{primary.500}" },
      handle: {
        width: "12px",
        height: "18px",
        borderRadius: "3px",
        background: "{primary.500}",
        content: {
          width: "2px",
          height: "10px",
          borderRadius: "1px",
          background: "var(--bright-paper)",
          hoverBackground: "var(--bright-paper)",
          shadow: "none",
        },
      },
    },
    progressbar: {
      root: { height: "6px", borderRadius: "3px", background: "var(--hair)" },
      value: { background: "{primary.500}" },
    },
    popover: {
      root: { borderRadius: "{border.radius.lg}", shadow: "0 6px 24px var(--picture-edge)", arrowOffset: "1rem" },
    },
  },
});

import type { Laid as LaidStill } from "../../api/client";
import type { Place } from "../../parts/drag";
import { led, round, type Shape } from "./areas";

/** What of a shape is taken hold of, where it is in the drawing, and what it is called. */
export type Handle = Place & { part: number; name: string; words: string };

/**
 * The shapes of areas as they are drawn over the frame, which is as wide as 100 and so high; `laid` says where the
 * still lies in it.
 */
export function shapesOver(laid: LaidStill, high: number) {
  function inFrame(point: Place): Place {
    const { x, y } = led(laid.to_frame, point);
    return { x: x * 100, y: y * high };
  }

  function along(shape: Extract<Shape, { kind: "ellipse" }>, angle: number): Place {
    const { aspect } = laid;
    const turned = (shape.angle_deg * Math.PI) / 180;
    const [across, down] = [Math.cos(angle) * shape.x_radius, (Math.sin(angle) * shape.y_radius) / aspect];
    return {
      x: shape.x + across * Math.cos(turned) - down * Math.sin(turned),
      y: shape.y + (across * Math.sin(turned) + down * Math.cos(turned)) * aspect,
    };
  }

  function outline(shape: Shape): string[] {
    if (shape.kind === "gradient") {
      const [from, to] = [inFrame(shape), inFrame({ x: shape.to_x, y: shape.to_y })];
      const [x, y] = [to.x - from.x, to.y - from.y];
      const length = Math.max(1e-6, Math.hypot(x, y));
      const beside = { x: (-y / length) * 300, y: (x / length) * 300 };
      return [
        ...[from, to].map((one) => `M${one.x - beside.x} ${one.y - beside.y}L${one.x + beside.x} ${one.y + beside.y}`),
        `M${from.x} ${from.y}L${to.x} ${to.y}`,
      ];
    }
    if (shape.kind !== "ellipse") return [];
    const points = Array.from({ length: 49 }, (_, step) => inFrame(along(shape, (step / 24) * Math.PI)));
    return [`M${points.map((one) => `${one.x} ${one.y}`).join("L")}Z`];
  }

  function handlesOf(shape: Shape, part: number): Handle[] {
    const of = (point: Place, name: string, words: string): Handle => ({ ...inFrame(point), part, name, words });
    if (shape.kind === "gradient")
      return [of(shape, "from", "where all of it works"), of({ x: shape.to_x, y: shape.to_y }, "to", "where it ends")];
    if (shape.kind === "ellipse")
      return [
        of(shape, "middle", "its middle"),
        of(along(shape, 0), "x", "its width, and how it is turned"),
        of(along(shape, Math.PI / 2), "y", "its height"),
      ];
    return [];
  }

  function movedTo(shape: Shape, name: string, to: Place): Shape {
    if (shape.kind === "gradient")
      return name === "from"
        ? { ...shape, x: round(to.x), y: round(to.y) }
        : { ...shape, to_x: round(to.x), to_y: round(to.y) };
    if (shape.kind !== "ellipse") return shape;
    if (name === "middle") return { ...shape, x: round(to.x), y: round(to.y) };
    const { aspect } = laid;
    const [across, down] = [to.x - shape.x, (to.y - shape.y) / aspect];
    const reach = Math.max(0.01, Math.hypot(across, down));
    if (name === "y") return { ...shape, y_radius: round(Math.min(4, reach * aspect)) };
    return {
      ...shape,
      x_radius: round(Math.min(4, reach)),
      angle_deg: Math.round((Math.atan2(down, across) * 1800) / Math.PI) / 10,
    };
  }

  return { outline, handlesOf, movedTo };
}

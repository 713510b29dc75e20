"""The frames of a reel: a frame source over those of its clips."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import nominal
from yarnkite.core.reel.decisions import ANCHORS, Reel, Title
from yarnkite.core.reel.live import live_text
from yarnkite.core.reel.recipe import ClipStretch, ReelRecipe
from yarnkite.core.reel.tiles import TileArea, tiles
from yarnkite.core.reel.timing import ClipRange, Span, clip_frame, is_over, lasts, length_of, one_for_one, spans
from yarnkite.core.render.composite import Composite, Scene, Spec, Tile
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import FrameSpec
from yarnkite.core.render.titles import Logo, Overlay, Text, box_of

# Title-safe: the inner nine tenths of a frame (SMPTE ST 2046-1).
_SAFE = 0.05


@dataclass(frozen=True)
class TitleSpan:
    """The frames ``start … end - 1`` of a reel in which a title is seen."""

    title: Title
    start: int
    end: int


class ReelFrames:
    """The frames of a reel, as its recipe decides."""

    def __init__(self, recipe: ReelRecipe) -> None:
        self._recipe, self._reel = recipe, recipe.reel
        self._clips = [
            [_Clip(self._reel, clip, place) if clip else None for clip, place in zip(row, where, strict=True)]
            for row, where in zip(recipe.clips, self._tiles, strict=True)
        ]
        lengths = [
            length_of(self._reel, part, [clip.stretch if clip else None for clip in row])
            for part, row in zip(self._reel.parts, self._clips, strict=True)
        ]
        self.spans = spans(self._reel, lengths)
        self._shown = [number for number, span in enumerate(self.spans) if span.frames]
        self._length = max((span.end for span in self.spans), default=0)
        self.titles = [seen for title in self._reel.titles if (seen := self._span_of(title)) is not None]

    @cached_property
    def _tiles(self) -> list[list[TileArea]]:
        return [tiles(part, self._reel.size) for part in self._reel.parts]

    @property
    def size(self) -> Size:
        """The size of the frames in pixels."""
        return self._reel.size

    @property
    def rate(self) -> Fraction:
        """Frames per second, exact."""
        return self._reel.rate

    @cached_property
    def borders(self) -> tuple[int, ...]:
        """The frames at which a chunk begins whatever came before, so that a part has the chunks its shot's clip
        has."""
        found: set[int] = set()
        for number in self._shown:
            span, (clip, *others) = self.spans[number], self._clips[number]
            found.add(span.start)
            if clip and not others and one_for_one(self._reel, clip.stretch.rate):
                every = nominal(self._reel.rate) * 2
                found.add(span.start + -clip.stretch.first % every)
        return tuple(sorted(frame for frame in found if 0 < frame < self._length))

    def __len__(self) -> int:
        return self._length

    def spec(self, frame: int) -> Spec:
        """Return what a frame is, counted from 0; raises ``IndexError`` outside."""
        if not 0 <= frame < self._length:
            raise IndexError(frame)
        here = [number for number in self._shown if self.spans[number].start <= frame < self.spans[number].end]
        scenes = self._scenes(here, frame)
        overlays = tuple(one for seen in self.titles if (one := self._overlay(seen, frame, here[-1])) is not None)
        fade = self._fade(frame)
        scene = scenes[0][0]
        if len(scenes) == 1 and not overlays and fade is None and len(scene.tiles) == 1:
            (tile,) = scene.tiles
            if tile.spec.finish.size == self.size and (tile.left, tile.top) == (0, 0):
                return tile.spec
        return Composite(self.size, scenes, overlays, fade)

    def shown(self, frame: int) -> tuple[int, int]:
        """Return the part a frame belongs to, the newer one in a dissolve, and the slot of its first picture that is
        shown."""
        number = next(one for one in reversed(self._shown) if self.spans[one].start <= frame < self.spans[one].end)
        first = next((at for at, one in enumerate(self._clips[number]) if one), None)
        return number, self._slot(number, first, frame) if first is not None else 0

    def _slot(self, number: int, at: int, frame: int) -> int:
        """Return the slot a picture of a part shows in a frame of the reel; one that is gone, the last it showed."""
        clip, picture = self._clips[number][at], self._reel.parts[number].pictures[at]
        assert clip is not None
        own = is_over(self._reel, picture, clip.stretch, frame - self.spans[number].start)
        return clip.slot(lasts(self._reel, clip.stretch) - 1 if own is None else own)

    def box_titles(self, frame: int) -> list[tuple[Title, Overlay]]:
        """Return the titles that are seen in a frame, as they lie over it, the hindmost first."""
        found = []
        for seen in self.titles:
            if seen.start <= frame < seen.end:
                overlay = self._overlay(seen, frame, self.shown(frame)[0], at_full=True)
                if overlay is not None:
                    found.append((seen.title, overlay))
        return found

    def says_something(self, title: Title) -> bool:
        """Tell whether a live title has something to say where it begins to be seen."""
        seen = next(one for one in self.titles if one.title.id == title.id)
        return bool(self._live(title, seen.start, self.shown(seen.start)[0]).replace(title.text, "", 1).strip())

    def reaches_beyond(self, title: Title) -> bool:
        """Tell whether a title does not fit into the frame."""
        seen = next(one for one in self.titles if one.title.id == title.id)
        what = next((one for own, one in self.box_titles(seen.start) if own.id == title.id), None)
        if what is None:
            return False
        box = box_of(what, self.size)
        slack = self.size.height // 100
        return (
            min(box.left, box.top) < -slack
            or box.left + box.width > self.size.width + slack
            or box.top + box.height > self.size.height + slack
        )

    def _scenes(self, here: list[int], frame: int) -> tuple[tuple[Scene, Fraction], ...]:
        newest = here[-1]
        if len(here) > 1:
            # At its first frame the new part is there a little already, at its last the old one a little still.
            before = self.spans[here[-2]]
            share = Fraction(frame - self.spans[newest].start + 1, before.over + 1)
            return ((self._scene(here[-2], frame), 1 - share), (self._scene(newest, frame), share))
        dipped = self._dipped(newest, frame)
        scene = self._scene(newest, frame)
        if dipped is None:
            return ((scene, Fraction(1)),)
        colour, share = dipped
        return ((scene, 1 - share), (Scene((), colour), share))

    def _dipped(self, number: int, frame: int) -> tuple[str, Fraction] | None:
        """Return the colour a frame lies under on the way from one part to the next, and how much of it."""
        span = self.spans[number]
        position = self._shown.index(number)
        if span.dip and frame >= span.end - span.dip:
            return self._reel.parts[number].join.colour, Fraction(2 * (frame - span.end + span.dip) + 1, 2 * span.dip)
        if position:
            before = self._shown[position - 1]
            dip = self.spans[before].dip
            if dip and frame < span.start + dip:
                share = 1 - Fraction(2 * (frame - span.start) + 1, 2 * dip)
                return self._reel.parts[before].join.colour, share
        return None

    def _scene(self, number: int, frame: int) -> Scene:
        part, own = self._reel.parts[number], frame - self.spans[number].start
        tiles = []
        for picture, clip in zip(part.pictures, self._clips[number], strict=False):
            if clip is None or (at := is_over(self._reel, picture, clip.stretch, own)) is None:
                continue
            tiles.append(Tile(clip.spec(at), clip.place.left, clip.place.top))
        return Scene(tuple(tiles), part.colour)

    def _fade(self, frame: int) -> tuple[str, Fraction] | None:
        fades = self._reel.fades
        seen = Fraction(1)
        if frame < fades.picture_in:
            seen = min(seen, Fraction(2 * frame + 1, 2 * fades.picture_in))
        left = self._length - 1 - frame
        if left < fades.picture_out:
            seen = min(seen, Fraction(2 * left + 1, 2 * fades.picture_out))
        return None if seen >= 1 else (fades.colour, 1 - seen)

    def _span_of(self, title: Title) -> TitleSpan | None:
        """Return when a title is seen, or ``None`` if its part is not there or it lies outside."""
        whole = Span(0, self._length)
        if title.part is not None:
            numbers = {part.id: number for number, part in enumerate(self._reel.parts)}
            if title.part not in numbers:
                return None
            whole = self.spans[numbers[title.part]]
            if not whole.frames:
                return None
        start = whole.start + title.first
        end = whole.end if title.frames is None else min(self._length, start + title.frames)
        return TitleSpan(title, start, end) if start < end else None

    def _overlay(self, seen: TitleSpan, frame: int, number: int, *, at_full: bool = False) -> Overlay | None:
        if not seen.start <= frame < seen.end:
            return None
        title = seen.title
        what = self._what(title, frame, number)
        if what is None:
            return None
        strength = Fraction(1)
        if title.fade_in and frame - seen.start < title.fade_in:
            strength = min(strength, Fraction(2 * (frame - seen.start) + 1, 2 * title.fade_in))
        left = seen.end - 1 - frame
        if title.fade_out and left < title.fade_out:
            strength = min(strength, Fraction(2 * left + 1, 2 * title.fade_out))
        if title.place is None:
            return Overlay(what, title.x, title.y, (0.5, 0.5), Fraction(1) if at_full else strength)
        across, down = ANCHORS[title.place]
        x, y = _SAFE + across * (1 - 2 * _SAFE), _SAFE + down * (1 - 2 * _SAFE)
        return Overlay(what, x, y, (across, down), Fraction(1) if at_full else strength)

    def _what(self, title: Title, frame: int, number: int) -> Text | Logo | None:
        if title.kind == "picture":
            logo = self._recipe.logos.get(title.picture or 0)
            return Logo(logo.path, logo.fingerprint, title.size) if logo else None
        said = title.text if title.kind == "text" else self._live(title, frame, number)
        if not said.strip():
            return None
        across = 0.5 if title.place is None else ANCHORS[title.place][0]
        alignment = "left" if across < 0.5 else "right" if across > 0.5 else "middle"
        return Text(tuple(said.splitlines()), title.face, title.size, title.colour, title.shade, alignment)  # type: ignore[arg-type]

    def _live(self, title: Title, frame: int, number: int) -> str:
        if title.part is not None:
            number = next(at for at, part in enumerate(self._reel.parts) if part.id == title.part)
        found = next(((at, one) for at, one in enumerate(self._clips[number]) if one and one.has_times), None)
        if found is None:
            return title.text
        at, clip = found
        said = live_text(title, clip.moment(self._slot(number, at, frame)), clip.moment(clip.slot(0)), clip.a_second)
        return f"{title.text}{said}" if said else title.text


class _Clip:
    """A picture of a part: the frames of its clip, fitted to its place."""

    def __init__(self, reel: Reel, clip: ClipStretch, place: TileArea) -> None:
        fit = clip.recipe.decisions.fit.model_copy(update={"size": place.size})
        decisions = clip.recipe.decisions.model_copy(update={"fit": fit})
        self._frames = ClipFrames(clip.recipe.model_copy(update={"decisions": decisions}))
        frames = max(0, min(clip.frames, len(self._frames) - clip.first))
        self._reel, self._moments, self.place = reel, clip.moments, place
        self.stretch = ClipRange(clip.first, frames, self._frames.rate)

    def spec(self, at: int) -> FrameSpec:
        return self._frames.spec(clip_frame(self._reel, self.stretch, at))

    def slot(self, at: int) -> int:
        """Return the slot that is shown most in a frame of the part."""
        last = max(0, self.stretch.frames - 1)
        frame = min(clip_frame(self._reel, self.stretch, max(0, at)), self.stretch.first + last)
        return self._frames.slot_of(frame)

    @property
    def has_times(self) -> bool:
        return bool(self._moments) and self.stretch.frames > 0

    def moment(self, slot: int) -> float:
        return self._moments[slot]

    @cached_property
    def a_second(self) -> Fraction | None:
        """How many seconds of the day pass in a second of the reel."""
        frames = self.stretch.frames
        if frames < 2:
            return None
        last = self.stretch.first + frames - 1
        passed = self._moments[self._frames.slot_of(last)] - self._moments[self._frames.slot_of(self.stretch.first)]
        rate = self._reel.rate if one_for_one(self._reel, self.stretch.rate) else self.stretch.rate
        seconds = Fraction(frames - 1) / rate
        return Fraction(round(passed * 1000), 1000) / seconds if passed > 0 else None

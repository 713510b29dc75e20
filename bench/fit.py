"""How stills become frames: moiré, sharpness while a view moves, turned stills, slow slopes, and what it costs.

All from JPEG or TIFF files of 24 megapixels through the one way pictures are made, against the kernel's definition in
double precision (``tests/ideal.py``).
"""

import tempfile
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import simplejpeg
import tifffile
from numpy.typing import NDArray
from skimage import data
from tests.ideal import detail, resampled

from bench.measure import median_s
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.geometry import Rect
from yarnkite.core.base.still import Still
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.video_frame import plane_of, to_video_frame
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import Placement
from yarnkite.core.image.pixels import as_eight, as_sixteen
from yarnkite.core.render.frame_spec import Finish, FrameSpec, Layer
from yarnkite.core.render.picture import picture

WIDTH, HEIGHT = 6000, 4000
SIZE = Size(width=1920, height=1280)
RINGS = (0.2, 0.3, 0.4, 0.5, 0.6, 0.75, 0.9, 1.1)
TIMED = 7
# Rings a pixel of the still, where they are finest.
FINEST = 0.45

Grey = NDArray[np.float64]


def run(folder: Path) -> None:
    """Print all of it."""
    with tempfile.TemporaryDirectory() as scratch:
        _moire(Path(scratch))
        _movement(Path(scratch))
        _turned(Path(scratch))
        _slope(Path(scratch))
        _costs(Path(scratch))


def _still(path: Path, image: NDArray[np.generic], subsampling: str = "444") -> Still:
    if path.suffix == ".jpg":
        encoded = simplejpeg.encode_jpeg(np.ascontiguousarray(image), quality=97, colorsubsampling=subsampling)
        path.write_bytes(encoded)
    else:
        tifffile.imwrite(path, image, photometric="rgb")
    return Still(path=str(path), fingerprint=path.name, width=image.shape[1], height=image.shape[0])


def _spec(still: Still, part: Rect, size: Size = SIZE, *, angle: float = 0.0, drifts: bool = False) -> FrameSpec:
    target = Rect(Fraction(0), Fraction(0), Fraction(size.width), Fraction(size.height))
    layer = Layer(still, Placement(source=part, target=target, angle=angle))
    return FrameSpec(((layer, Fraction(1)),), Finish.of(Fit(size=size), drifts=drifts))


def _whole(still: Still) -> Rect:
    return Rect(Fraction(0), Fraction(0), Fraction(still.width), Fraction(still.height))


def _coloured(grey: Grey) -> NDArray[np.uint8]:
    return np.repeat(np.rint(np.clip(grey, 0, 255)).astype(np.uint8)[..., None], 3, axis=2)


def _zone_plate(width: int, height: int) -> Grey:
    """Return rings that grow finer from the middle on, to ``FINEST`` a pixel at the end of its longer side."""
    return 127.5 + 100 * np.cos(np.pi * FINEST / (width / 2) * _radius(width, height) ** 2)


def _radius(width: int, height: int) -> Grey:
    down, across = np.mgrid[:height, :width].astype(float)
    return np.asarray(np.hypot(across + 0.5 - width / 2, down + 0.5 - height / 2))


def _moire(folder: Path) -> None:
    print("What is left of rings, in shares of what there is, by how many lie in a pixel of the frame:")
    print("  " + "".join(f"{ring:>8.2f}" for ring in RINGS))
    for width, height in ((WIDTH, HEIGHT), (3840, 2560)):
        plate = _zone_plate(width, height)
        for name, path in (("JPEG", folder / "plate.jpg"), ("TIFF", folder / "plate.tif")):
            still = _still(path, _coloured(plate))
            spec = _spec(still, _whole(still))
            shown = {"RGB": as_sixteen(picture(spec))[..., 1] / 257.0}
            if (frame := frame_by_planes(spec)) is not None:
                shown["planes"] = (plane_of(frame, 0, 8) - 16.0) * 255 / 219
            for way, found in shown.items():
                _print_rings(f"{width} → {SIZE.width}, {name} by way of {way}", found, width / SIZE.width)
        ideal = resampled(_coloured(plate)[..., 1], (0, 0, width, height), (SIZE.width, SIZE.height))
        _print_rings(f"{width} → {SIZE.width}, the kernel by its definition", ideal, width / SIZE.width)


def _print_rings(name: str, found: Grey, reduction: float) -> None:
    # How many rings lie in a pixel of the frame: they grow with its distance from the middle, as in the still.
    of_pixel = FINEST / (SIZE.width / 2) * reduction * _radius(*found.shape[::-1])
    left = []
    for ring in RINGS:
        there = np.abs(of_pixel - ring) < 0.012
        left.append(np.sqrt(2) * found[there].std() / 100 if there.sum() > 200 else np.nan)
    print("  " + "".join(f"{one:8.3f}" for one in left) + f"  {name}")


def _movement(folder: Path) -> None:
    """A photograph seen one to one: how its fine detail changes from frame to frame."""
    taken = np.tile(data.astronaut(), (3, 4, 1))
    still = _still(folder / "taken.tif", taken)
    size = Size(width=960, height=640)
    for drifts in (True, False):
        drift = [
            _detail(
                still, Rect(200 + Fraction(n, 10), 200 + Fraction(n, 10), Fraction(960), Fraction(640)), size, drifts
            )
            for n in range(11)
        ]
        nearer = []
        for n in range(33):
            half = Fraction(1060 - 4 * n, 1000) / 2
            part = Rect(1000 - 960 * half, 700 - 640 * half, 960 * 2 * half, 640 * 2 * half)
            nearer.append(_detail(still, part, size, drifts))
        jump = float(np.abs(np.diff(np.log(nearer))).max())
        kind = "a view that moves" if drifts else "the kernel of one that stands"
        print(
            f"{kind}: fine detail pulses by {max(drift) / min(drift) - 1:.1%} while it drifts, "
            f"changes by {jump:.1%} a frame while it comes nearer through 1:1"
        )


def _detail(still: Still, part: Rect, size: Size, drifts: bool) -> float:
    return detail(picture(_spec(still, part, size, drifts=drifts)))


def _turned(folder: Path) -> None:
    fine = np.random.default_rng(2).normal(128, 40, (2000, 3000)).clip(0, 255)
    pictures = {"photograph": np.tile(data.astronaut(), (4, 6, 1))[:2000, :3000], "grain": _coloured(fine)}
    for name, image in pictures.items():
        still = _still(folder / "turned.tif", image)
        for reduction in (Fraction(1), Fraction(25, 16), Fraction(2)):
            size = Size(width=1200, height=800)
            part = Rect(Fraction(300), Fraction(200), 1200 * reduction, 800 * reduction)
            shifted = Rect(part.left + Fraction(1, 3), part.top + Fraction(1, 3), part.width, part.height)
            turned, plain = (
                detail(picture(_spec(still, one, size, angle=angle))) for one, angle in ((part, 2.0), (shifted, 0.0))
            )
            kept = f"{turned / plain:.1%} of a shifted one's fine detail"
            print(f"{name}, reduced {float(reduction):.4g} times: turned by 2° {kept}")


def _slope(folder: Path) -> None:
    """Four codes over the width, with a grain of one code as cameras have: how far the mean is from the slope."""
    rng = np.random.default_rng(8)
    slope = np.linspace(100, 104, WIDTH)
    image = _coloured(slope + rng.normal(0, 1, (HEIGHT, WIDTH)))
    still = _still(folder / "slope.tif", image)
    shown = picture(_spec(still, _whole(still)))
    wanted = np.linspace(100, 104, SIZE.width)
    luma = plane_of(to_video_frame(shown), 0, 8).astype(float)
    rounded = plane_of(to_video_frame(as_eight(shown)), 0, 8).astype(float)
    exact = 16 + wanted * 219 / 255
    for name, found in (("dithered", luma), ("rounded twice, as before", rounded)):
        mean = cv2.blur(found, (15, 15))[20:-20, 20:-20].mean(axis=0)
        print(f"a slope of four codes, {name}: {np.abs(mean - exact[20:-20]).max():.3f} codes off at most")


def _costs(folder: Path) -> None:
    taken = cv2.resize(data.astronaut(), (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC)
    grain = np.random.default_rng(1).integers(-6, 7, (HEIGHT, WIDTH, 1), dtype=np.int16)
    still = _still(folder / "cost.jpg", np.clip(taken + grain, 0, 255).astype(np.uint8), "422")
    part = Rect(Fraction(100), Fraction(100), Fraction(5700), Fraction(3800))
    rows: dict[str, Callable[[], object]] = {
        "by planes, decoded and as a frame": lambda: frame_by_planes(_spec(still, part)),
        "by way of RGB": lambda: to_video_frame(picture(_spec(still, part))),
        "turned by 2°": lambda: to_video_frame(picture(_spec(still, part, angle=2.0))),
    }
    cv2.setNumThreads(1)
    for name, work in rows.items():
        print(f"a frame {name}: {1000 * median_s(work, TIMED):.0f} ms on one core")

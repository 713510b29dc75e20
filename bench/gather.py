"""Gathering against decoding alone, and the picture for scrubbing."""

import shutil
import statistics
import tempfile
import time
from fractions import Fraction
from pathlib import Path

import simplejpeg

from bench.stills import make_stills
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies, proxy_reduction
from yarnkite.core.image.decode import read_still
from yarnkite.core.render.picture import fitted

STILLS = 40


def run(folder: Path) -> None:
    """Measure and print."""
    stills = make_stills(folder / "stills", STILLS)
    work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
    try:
        proxies = Proxies(work)
        # A first still each, so that neither measurement pays for compiling or for a cold file cache.
        gathered = [gather_still(Path(still.path).parent, Path(still.path).name, proxies) for still in stills[:1]]
        shutil.rmtree(work)
        decode, gather = [], []
        for still in stills:
            decode.append(
                _seconds(lambda still=still: read_still(still, Fraction(proxy_reduction(still.width, still.height))))
            )
            began = time.perf_counter()
            gathered.append(gather_still(Path(still.path).parent, Path(still.path).name, proxies))
            gather.append(time.perf_counter() - began)
        known = [
            still.model_copy(update={"fingerprint": one.fingerprint})
            for still, one in zip(stills, gathered[1:], strict=True)
        ]
        scrub = [_seconds(lambda still=still: _scrubbed(still, proxies)) for still in known]
    finally:
        shutil.rmtree(work, ignore_errors=True)
    print(f"\nGather: {STILLS} stills of 24 megapixels, one core")
    print(f"scaled decode alone                 {statistics.mean(decode) * 1000:5.0f} ms a still")
    print(f"gathering                           {statistics.mean(gather) * 1000:5.0f} ms a still")
    print(f"speed against decoding alone        {sum(decode) / sum(gather):5.2f}   (bar: 0.80)")
    print(f"picture for scrubbing, 1280 wide    {statistics.median(scrub) * 1000:5.0f} ms   (bar: 40)")


def _scrubbed(still: Still, proxies: Proxies) -> bytes:
    size = Size(width=1280, height=720)
    image = fitted(still, Fit(), size, read=proxies.read)
    return bytes(simplejpeg.encode_jpeg(image, quality=90, colorsubsampling="444"))


def _seconds(work: object) -> float:
    began = time.perf_counter()
    work()  # type: ignore[operator]
    return time.perf_counter() - began

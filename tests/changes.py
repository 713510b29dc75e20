"""``./run test changes [PACKAGE …]``: small faults are planted in the core, one at a time; says which of them no test
notices.

A fault is a comparison turned round, a constant moved, a branch never (or always) taken, a sum for a difference. Each
is put into the module as it is imported, in a process of its own, and the tests of the same package run until one
fails.
"""

import argparse
import ast
import os
import random
import signal
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from importlib.machinery import ModuleSpec, PathFinder, SourceFileLoader
from pathlib import Path

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src" / "yarnkite" / "core"
# A test that never ends notices too; only what takes this much longer than the sound code counts as never ending.
_LONGER, _AT_LEAST_S = 6, 60
_TURNED = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult, ast.Mod: ast.Mult,
    ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip
_REVERSED = {ast.Lt: ast.Gt, ast.LtE: ast.GtE, ast.Gt: ast.Lt, ast.GtE: ast.LtE}
# What only names, types, tunes caches or words things is no rule of the job.
_NO_RULE = {"maxsize", "cache", "nogil", "description", "examples", "title"}


@dataclass(frozen=True)
class Change:
    """One fault: in this file, on this line, this text instead of that."""

    path: Path
    line: int
    start: int
    end: int
    text: str

    def source(self) -> bytes:
        original = self.path.read_bytes()
        return original[: self.start] + self.text.encode() + original[self.end :]

    def __str__(self) -> str:
        was = self.path.read_bytes()[self.start : self.end].decode()
        return f"{self.path.relative_to(CORE)}:{self.line}: {was}  →  {self.text}".replace("\n", " ")


def changes_of(path: Path) -> Iterator[Change]:
    """Yield every fault that can be planted in a module."""
    source = path.read_bytes()
    starts = [0]
    for line in source.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def change(node: ast.expr, text: str) -> Change:
        first = starts[node.lineno - 1] + node.col_offset
        return Change(path, node.lineno, first, starts[(node.end_lineno or 0) - 1] + (node.end_col_offset or 0), text)

    for node in _rules(ast.parse(source)):
        if isinstance(node, ast.If | ast.IfExp | ast.While):
            yield change(node.test, "False")
            if not isinstance(node, ast.While):
                yield change(node.test, "True")
        for text in _other(node):
            yield change(node, text)  # type: ignore[arg-type]


def _rules(node: ast.AST) -> Iterator[ast.AST]:
    """Walk a tree, past annotations, decorators, assertions and what is raised."""
    if isinstance(node, ast.Raise | ast.Assert):
        return
    if isinstance(node, ast.If) and ast.unparse(node.test) == "TYPE_CHECKING":
        return
    yield node
    for name, value in ast.iter_fields(node):
        if name in {"annotation", "returns", "decorator_list", "type_params", "bases"}:
            continue
        for child in value if isinstance(value, list) else [value]:
            if isinstance(child, ast.AST) and not (isinstance(child, ast.keyword) and child.arg in _NO_RULE):
                yield from _rules(child)


def _other(node: ast.AST) -> Iterator[str]:
    """Yield what could stand in place of an expression."""
    match node:
        case ast.Compare(left, [op], [right]) if type(op) in _TURNED:
            for table in (_TURNED, _REVERSED):
                if type(op) in table:
                    yield f"({ast.unparse(ast.Compare(left, [table[type(op)]()], [right]))})"
        case ast.BinOp(left, op, right) if type(op) in _TURNED and not isinstance(left, ast.Constant | ast.JoinedStr):
            yield f"({ast.unparse(ast.BinOp(left, _TURNED[type(op)](), right))})"
        case ast.BoolOp(op, values):
            yield f"({ast.unparse(ast.BoolOp(_TURNED[type(op)](), values))})"
        case ast.UnaryOp(ast.Not() | ast.USub(), operand):
            yield f"({ast.unparse(operand)})"
        case ast.Call(ast.Name("min"), _, _):
            yield ast.unparse(node).replace("min", "max", 1)
        case ast.Call(ast.Name("max"), _, _):
            yield ast.unparse(node).replace("max", "min", 1)
        case ast.Constant(bool() as value):
            yield str(not value)
        case ast.Constant(int() as value):
            yield f"{value + 1}"
        case ast.Constant(float() as value):
            yield f"{value * 1.25 + (value == 0)}"


class Planted(PathFinder):
    """Finds the changed module before the sound one is found."""

    change: Change
    name: str

    @classmethod
    def find_spec(cls, fullname: str, path: object = None, target: object = None) -> ModuleSpec | None:
        if fullname != cls.name:
            return None
        spec = PathFinder.find_spec(fullname, path)  # type: ignore[arg-type]
        assert spec is not None
        assert spec.origin is not None
        spec.loader = _ChangedLoader(fullname, spec.origin)
        return spec


class _ChangedLoader(SourceFileLoader):
    def get_code(self, fullname: str) -> object:  # type: ignore[override]
        return compile(Planted.change.source(), str(self.path), "exec")


def tests_of(package: str) -> list[Path]:
    return sorted((ROOT / "tests" / "core" / package).rglob("test_*.py"))


def noticed(package: str, change: Change | None, *, limit_s: float) -> bool:
    """Run a package's tests in a process of their own until one fails; those named like the changed module come
    first."""
    if child := os.fork():
        deadline = time.monotonic() + limit_s
        while time.monotonic() < deadline:
            ended, status = os.waitpid(child, os.WNOHANG)
            if ended:
                return os.waitstatus_to_exitcode(status) != 0
            time.sleep(0.02)
        os.killpg(child, signal.SIGKILL)
        os.waitpid(child, 0)
        return True
    os.setpgid(0, 0)
    _become_quiet()
    files = tests_of(package)
    with tempfile.TemporaryDirectory() as scratch:
        if change is not None:
            _plant(change, Path(scratch))
            files.sort(key=lambda file: change.path.stem not in file.stem)
        import pytest

        quick = ["-x", "-q", "-m", "not long", "-p", "no:cacheprovider", f"--basetemp={scratch}/tests"]
        status = pytest.main([*quick, *map(str, files)])
    os._exit(int(status != 0))


def _plant(change: Change, scratch: Path) -> None:
    Planted.change = change
    Planted.name = ".".join(change.path.relative_to(ROOT / "src").with_suffix("").parts).removesuffix(".__init__")
    sys.meta_path.insert(0, Planted)
    if _compiled(change.path):
        # What numba kept of the sound code, callers in other modules included, would be used in place of this.
        import numba

        numba.config.CACHE_DIR = str(scratch / "compiled")


def _compiled(path: Path) -> bool:
    """Tell whether compiled code can hold what stands in a module."""
    return "njit" in path.read_text() or path.parent.name == "image"


def _become_quiet() -> None:
    nothing = os.open(os.devnull, os.O_RDWR)
    for stream in (0, 1, 2):
        os.dup2(nothing, stream)


def sample(package: str, count: int, seed: int) -> list[Change]:
    """Choose faults of a package at random, each place at most once."""
    modules = [path for path in sorted((CORE / package).rglob("*.py")) if path.name != "__init__.py"]
    all_of_them = [change for path in modules for change in changes_of(path)]
    random.Random(f"{package} {seed}").shuffle(all_of_them)
    chosen: dict[tuple[Path, int], Change] = {}
    for change in all_of_them:
        if len(chosen) < count:
            chosen.setdefault((change.path, change.line), change)
    return list(chosen.values())


def main() -> None:
    names = sorted(path.name for path in CORE.iterdir() if tests_of(path.name))
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("packages", nargs="*", default=names, metavar="PACKAGE")
    arguments.add_argument("--count", type=int, default=25, help="faults a package")
    arguments.add_argument("--seed", type=int, default=1)
    wanted = arguments.parse_args()
    sys.path[:0] = [str(ROOT), str(ROOT / "src")]
    os.chdir(ROOT)
    _load()
    with ThreadPoolExecutor(2) as pool:
        for package in wanted.packages:
            began = time.monotonic()
            if noticed(package, None, limit_s=float("inf")):
                sys.exit(f"The tests of {package} fail with the sound code.")
            limit_s = max(_AT_LEAST_S, _LONGER * (time.monotonic() - began))
            planted = sample(package, wanted.count, wanted.seed)
            found = list(pool.map(partial(noticed, package, limit_s=limit_s), planted))
            print(
                f"{package:9} {sum(found)} of {len(found)} noticed ({sum(found) / max(1, len(found)):.0%})", flush=True
            )
            for change, seen in zip(planted, found, strict=True):
                if not seen:
                    print(f"    not noticed: {change}", flush=True)


def _load() -> None:
    """Load once what every process needs and no fault is planted in."""
    import av  # noqa: F401
    import cv2
    import hypothesis  # noqa: F401
    import numba  # noqa: F401
    import PIL.Image  # noqa: F401
    import pydantic  # noqa: F401
    import pytest  # noqa: F401
    import scipy.optimize
    import scipy.signal
    import scipy.stats  # noqa: F401

    cv2.setNumThreads(1)


if __name__ == "__main__":
    main()

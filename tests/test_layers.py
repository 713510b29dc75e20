"""The layers of the program: an inner one never imports an outer one."""

import ast
import re
from functools import cache
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[1] / "src" / "yarnkite"
LAYERS = [
    "core",
    "camera",
    "workspace",
    "store",
    "resolve",
    "locations",
    "entrance",
    "alone",
    "jobs",
    "services",
    "api",
    "serve",
    "demo",
    "cli",
]
# The packages of the core in the order of work: each imports only itself and those before it.
PACKAGES = [
    "base",
    "image",
    "plan",
    "gather",
    "order",
    "check",
    "light",
    "fit",
    "move",
    "pace",
    "sound",
    "render",
    "reel",
    "encode",
    "brief",
]
PAGES = SOURCE.parents[1] / "web" / "src"
# The folders of the pages: each imports only itself and those before it; what lies beside them puts all together.
OF_PAGES = [
    "theme",
    "keys",
    "api",
    "stores",
    "parts",
    "queue",
    "files",
    "playback",
    "stage",
    "tail",
    "steps",
    "brief",
    "screens",
]
# A reel is finished as a clip is.
STEP_ON_STEP = {("reel", "encode")}
PAGE_MODULES = sorted(path for path in PAGES.rglob("*") if path.suffix in (".ts", ".vue"))
STYLES = sorted(path for path in PAGES.rglob("*") if path.suffix in (".css", ".vue"))
CORE = SOURCE / "core"
CORE_MODULES = sorted(CORE.rglob("*.py"))
# Modules of the store whose types stand in what routers say.
# What is made of decisions: recipes, findings, evening, steadying, sentences. `resolve` makes it, of what the store
# gives.
MADE_OF_DECISIONS = (
    *("yarnkite.core.render.recipe", "yarnkite.core.render.slots", "yarnkite.core.render.lighting"),
    *("yarnkite.core.render.laying", "yarnkite.core.reel.recipe", "yarnkite.core.brief.sentence"),
    *("yarnkite.core.brief.reel_sentence", "yarnkite.core.light.evening", "yarnkite.core.light.lens_profile"),
    *("yarnkite.core.move.path", "yarnkite.core.move.steadying", "yarnkite.core.move.region"),
    *("yarnkite.core.check.finding", "yarnkite.core.check.findings", "yarnkite.core.pace.schedule"),
)
TYPES_ONLY = {"yarnkite.store.database", "yarnkite.store.jobs", "yarnkite.store.uploads"}
FORBIDDEN_IN_CORE = {"fastapi", "starlette", "pymysql", "threading", "concurrent", "multiprocessing", "uvicorn"}


@cache
def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.level == 0 and node.module:
            found.add(node.module)
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return found


def layer_of(module: str) -> str | None:
    parts = module.split(".")
    return parts[1] if parts[0] == "yarnkite" and len(parts) > 1 and parts[1] in LAYERS else None


@pytest.mark.parametrize("path", sorted(SOURCE.rglob("*.py")), ids=lambda path: str(path.relative_to(SOURCE)))
def test_imports_point_inwards(path):
    own = layer_of("yarnkite." + ".".join(path.relative_to(SOURCE).with_suffix("").parts))
    if own is None:
        return
    for module in imports(path):
        other = layer_of(module)
        assert other is None or LAYERS.index(other) <= LAYERS.index(own), f"{own} imports {module}"


def test_there_are_modules_to_look_at():
    assert len(CORE_MODULES) > 40
    assert {path.relative_to(CORE).parts[0] for path in CORE_MODULES} == {*PACKAGES, "__init__.py"}


@pytest.mark.parametrize("path", CORE_MODULES, ids=lambda path: str(path.relative_to(CORE)))
def test_a_step_imports_only_what_comes_before_it(path):
    own = path.relative_to(CORE).parts[0]
    for module in imports(path):
        parts = module.split(".")
        if parts[:2] == ["yarnkite", "core"] and len(parts) > 2 and own in PACKAGES:
            # A recipe and a reel put together what every step decides, also those that come later; decisions rest on
            # nothing else.
            is_decisions = own in ("render", "reel") and parts[3:4] == ["decisions"]
            assert is_decisions or PACKAGES.index(parts[2]) <= PACKAGES.index(own), f"core.{own} imports {module}"


@pytest.mark.parametrize("path", CORE_MODULES, ids=lambda path: str(path.relative_to(CORE)))
def test_the_core_knows_no_web_no_database_and_starts_no_threads(path):
    known = imports(path)
    # What several threads may ask of it at a time it guards with a lock.
    if "threading.Lock" in known:
        known -= {"threading", "threading.Lock"}
    assert not {module.split(".")[0] for module in known} & FORBIDDEN_IN_CORE


@pytest.mark.parametrize("path", sorted((SOURCE / "api").rglob("*.py")), ids=lambda path: path.name)
def test_no_router_imports_another_router(path):
    routers = {f"yarnkite.api.{other.stem}" for other in (SOURCE / "api").glob("*.py") if is_router(other)}
    if path.stem != "app" and is_router(path):
        assert not (imports(path) & routers) - {f"yarnkite.api.{path.stem}"}


@pytest.mark.parametrize("path", sorted((SOURCE / "api").rglob("*.py")), ids=lambda path: path.name)
def test_routers_reach_the_store_and_the_jobs_only_through_services(path):
    """Types they may name; what a person can do stands in the services."""
    reached = {module for module in imports(path) if module.startswith(("yarnkite.store", "yarnkite.jobs"))}
    assert all(module.split(".")[-1][:1].isupper() or module in TYPES_ONLY for module in reached), reached


@pytest.mark.parametrize("path", PAGE_MODULES, ids=lambda path: str(path.relative_to(PAGES)))
def test_a_folder_of_the_pages_imports_only_those_before_it_and_no_step_another(path):
    own = path.relative_to(PAGES).parts
    for module in re.findall(r"""(?:from|import)\s*\(?\s*["'](\.[^"']+)["']""", path.read_text()):
        other = (path.parent / module).resolve().relative_to(PAGES).parts
        if len(own) == 1 or len(other) == 1:
            assert len(own) == 1, f"{'/'.join(own)} imports {'/'.join(other)}"
            continue
        assert OF_PAGES.index(other[0]) <= OF_PAGES.index(own[0]), f"{'/'.join(own)} imports {'/'.join(other)}"
        if own[0] == other[0] == "steps" and len(own) > 2 and len(other) > 2 and own[1] != other[1]:
            assert (own[1], other[1]) in STEP_ON_STEP, f"{'/'.join(own)} imports {'/'.join(other)}"


def test_stage_and_tail_know_no_step():
    words = re.findall(r'"(\w+)"', (PAGES / "stores" / "steps.ts").read_text().split("]")[0])
    assert len(words) == 8
    for path in PAGE_MODULES:
        if path.relative_to(PAGES).parts[0] in ("stage", "tail"):
            named = set(re.findall(r"""=== ["'](\w+)["']""", path.read_text()))
            assert not named & set(words), path


@pytest.mark.parametrize("path", STYLES, ids=lambda path: str(path.relative_to(PAGES)))
def test_colours_and_sizes_of_type_stand_in_one_place(path):
    style = path.read_text()
    if path.suffix == ".vue":
        style = "".join(re.findall(r"<style[^>]*>(.*?)</style>", style, re.S))
    assert re.findall(r"#[0-9a-fA-F]{3,8}\b|rgba?\(|hsla?\(|: *(?:white|black|red|gr[ae]y)\b", style) == []
    # What a page as a whole has is what all others are measured by.
    sizes = {size for size in re.findall(r"font-size: ([^;]+);", style) if not size.startswith("var(--type-")}
    assert sizes <= ({"15px"} if path.name == "page.css" else set())


def test_every_variable_that_is_used_is_one_there_is():
    there = set(re.findall(r'"?([a-z-]+)"?: ["\']', (PAGES / "theme" / "tokens.ts").read_text()))
    own = {name for path in PAGE_MODULES for name in re.findall(r"--([a-z-]+)['\"]?:", path.read_text())}
    used = {name for path in STYLES for name in re.findall(r"var\(--([a-z-]+)[,)]", path.read_text())}
    assert used - own - there == set()


@pytest.mark.parametrize("path", sorted((SOURCE / "store").rglob("*.py")), ids=lambda path: path.name)
def test_the_store_knows_what_was_decided_and_measured_and_nothing_that_is_made_of_it(path):
    made = [module for module in imports(path) if module.startswith(MADE_OF_DECISIONS)]
    assert made == []


def is_router(path: Path) -> bool:
    return any(
        isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "APIRouter"
        for node in ast.walk(ast.parse(path.read_text()))
    )


def test_the_folders_are_those_the_documentation_lists():
    root = SOURCE.parents[1]
    listed = set(
        re.findall(r"^((?:src/yarnkite|web/src)/\S+/) ", (root / "docs" / "architecture.md").read_text(), re.M)
    )
    there = {
        f"{folder.relative_to(root)}/"
        for top, depth in ((SOURCE, 2), (root / "web" / "src", 1))
        for folder in top.rglob("*")
        if folder.is_dir() and len(folder.relative_to(top).parts) <= depth and folder.name != "__pycache__"
    }
    assert listed == {folder for folder in there if not folder.startswith("src/yarnkite/store/")} | {
        "src/yarnkite/store/"
    }


@pytest.mark.parametrize("page", sorted((SOURCE.parents[1] / "docs").glob("*.md")), ids=lambda page: page.name)
def test_every_module_the_documentation_names_is_there(page):
    named = re.findall(r"`((?:core|store|jobs|services|api|cli|demo)/[\w/]+\.py)`", page.read_text())
    assert [name for name in named if not (SOURCE / name).exists()] == []


def test_the_browsers_types_are_those_of_the_interface(tmp_path):
    import shutil
    import subprocess

    from yarnkite.cli.main import main

    web = SOURCE.parents[1] / "web"
    main(["openapi", str(tmp_path / "openapi.json")])
    made = tmp_path / "schema.ts"
    generator = web / "node_modules" / ".bin" / "openapi-typescript"
    if not generator.exists():
        generator = Path(shutil.which("openapi-typescript") or generator)
    subprocess.run([str(generator), str(tmp_path / "openapi.json"), "-o", str(made)], check=True, capture_output=True)
    assert made.read_text() == (web / "src" / "api" / "schema.ts").read_text(), "run: npm run types (in web/)"

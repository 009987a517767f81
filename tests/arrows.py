#!/usr/bin/env python3
"""Includes between folders point one way: who may know whom, checked from the include lines alone."""
import pathlib
import re
import sys

# A folder may include those that stand before it, and its own.
CORE = ["system", "image", "optics", "colour", "depth", "timeline", "regions", "inserts", "passes", "finish", "defocus", "tracking", "others", "project", "frame", "delivery"]
APP = ["document", "commands", "store", "pictures", "jobs", "look", "layout", "fields", "desk", "picture", "finish", "delivery", "sheet", "play",
       "dialogs", "window", "controllers"]
# Within a folder its own folders, in the same way.
WITHIN = {
    "core/defocus": ["lens", "surfaces", "hidden", "repair", "slices", "glints", "spread", "laid_in"],
    "core/passes": ["exr", "frames", "mattes", "movie", "scene", "module"],
    "core/project": ["settings", "file"],
    "core/frame": ["places", "others"],
}
TOP = ["core", "reference", "demo", "bench", "cli", "app"]
# document and commands are two halves of one thing, so are what is made and where it is kept, and the window
# and its controllers.
TOGETHER = [{"document", "commands", "jobs"}, {"store", "pictures", "jobs"}, {"window", "controllers"}]

root = pathlib.Path(__file__).resolve().parent.parent
include = re.compile(r'^#include "([\w/]+\.h)"', re.M)
wrong = []


def rank(path):
    """(top, folder): where a file stands in the two orders."""
    parts = path.split("/")
    top = parts[0]
    order = CORE if top == "core" else APP if top == "app" else []
    folder = parts[1] if len(parts) > 2 and parts[1] in order else None
    return top, folder, order


for source in sorted(root.glob("src/**/*")) + sorted(root.glob("reference/*")):
    if source.suffix not in (".h", ".cpp"):
        continue
    name = str(source.relative_to(root))
    name = name.removeprefix("src/")
    top, folder, order = rank(name)
    for target in include.findall(source.read_text()):
        other, its, _ = rank(target)
        if other not in TOP:
            continue
        if other != top and other != "core":
            wrong.append(f"{name} -> {target}")
        if other == top and folder and its and order.index(its) > order.index(folder):
            if not any({folder, its} <= pair for pair in TOGETHER):
                wrong.append(f"{name} -> {target}")

for source in sorted(root.glob("src/core/*/*/*")):
    if source.suffix not in (".h", ".cpp"):
        continue
    folder, own = "core/" + source.parts[-3], source.parts[-2]
    order = WITHIN.get(folder, [])
    for target in include.findall(source.read_text()):
        parts = target.split("/")
        if "/".join(parts[:2]) != folder or len(parts) < 4:
            continue
        if order.index(parts[2]) > order.index(own):
            wrong.append(f"{folder}/{own}/{source.name} -> {target}")

for line in wrong:
    print("an include that points backwards:", line)
print(f"{'no' if not wrong else len(wrong)} includes point backwards")
sys.exit(1 if wrong else 0)

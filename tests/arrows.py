#!/usr/bin/env python3
"""Includes between folders point one way: who may know whom, checked from the include lines alone."""
import pathlib
import re
import sys

# A folder may include those that stand before it, and its own.
CORE = ["base", "optics", "colour", "depth", "timeline", "regions", "layers", "passes", "finish", "defocus", "tracking", "views", "project", "frame", "delivery"]
APP = ["document", "commands", "store", "pictures", "jobs", "look", "fields", "desk", "picture", "finish", "delivery", "sheet", "play",
       "dialogs", "window", "controllers"]
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

for line in wrong:
    print("an include that points backwards:", line)
print(f"{'no' if not wrong else len(wrong)} includes point backwards")
sys.exit(1 if wrong else 0)

#!/usr/bin/python3
"""The window as a screen reader has it: through the assistive technology bus (AT-SPI 2), from another process.

Run by ctest inside xvfb-run and dbus-run-session: screen_reader.py PROGRAM FILE"""
import os
import subprocess
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi  # noqa: E402


def wait_for(what, found, seconds=60):
    end = time.time() + seconds
    while time.time() < end:
        value = found()
        if value:
            return value
        time.sleep(0.2)
    sys.exit(f"waited in vain for {what}")


def children(node):
    return [c for c in (node.get_child_at_index(i) for i in range(node.get_child_count())) if c]


def walk(node):
    yield node
    for child in children(node):
        yield from walk(child)


def has(node, state):
    return node.get_state_set().contains(state)


def text_of(node):
    return Atspi.Text.get_text(node, 0, Atspi.Text.get_character_count(node))


def application():
    return next((c for c in children(Atspi.get_desktop(0)) if c.get_name() == "retinex"), None)


def named(root, role, beginning):
    return next((n for n in walk(root) if n.get_role_name() == role and n.get_name().startswith(beginning)
                 and has(n, Atspi.StateType.SHOWING)), None)


def check(holds, matter):
    if not holds:
        sys.exit(f"FAILED: {matter}")
    print(f"holds: {matter}")


def keys_are_at(root):
    # The toolkit calls the current line of every list focused, also while its list has not got the keys.
    return next((n for n in walk(root) if has(n, Atspi.StateType.FOCUSED) and n.get_role_name() != "frame"
                 and (n.get_role_name() != "list item" or has(n.get_parent(), Atspi.StateType.FOCUSED))), None)


def check_running(window):
    if window.poll() is not None:
        sys.exit(f"FAILED: the window ended by itself, with {window.returncode}")


def look(root):
    # What shows a value says it, with the name of its row.
    zone = wait_for("the sharp zone", lambda: named(root, "label", "Sharp zone: 0."))
    check(" to " in zone.get_name() and " m" in zone.get_name(), f"a value beside its name: {zone.get_name()}")
    coc = named(root, "label", "CoC at infinity: ")
    check(coc and "px" in coc.get_name() and "mm" in coc.get_name(), "CoC at infinity, with units")
    reading = named(root, "combo box", "Reading: ")
    check(reading and reading.get_name() == "Reading: distance from camera plane", "a chooser's name and choice")
    stop = named(root, "text", "f-stop")
    check(stop and text_of(stop) == "f/1.4", "a number field's name and text")

    # Nothing that takes the keys is nameless.
    passive = {"list", "list item", "scroll bar", "frame", "menu item", "filler"}
    nameless = [n.get_role_name() for n in walk(root)
                if has(n, Atspi.StateType.FOCUSABLE) and has(n, Atspi.StateType.SHOWING)
                and not n.get_name() and n.get_role_name() not in passive
                and n.get_parent().get_role_name() not in ("combo box", "spin button")]
    check(not nameless, f"nothing that takes the keys is nameless: {nameless}")

    # Tab goes through the sheet in the order of the eye.
    fields = [n for n in walk(root) if n.get_role_name() == "text" and has(n, Atspi.StateType.SHOWING)]
    first = next(n for n in fields if n.get_name() == "Focal length")
    # No window manager is there to hand the keys to the window.
    subprocess.run(["xdotool", "search", "--onlyvisible", "--name", "Retinex", "windowfocus", "--sync"], check=True)
    Atspi.Component.grab_focus(first)
    wait_for("the keys in Focal length", lambda: has(first, Atspi.StateType.FOCUSED), 30)
    seen = []
    for expected in ("Sensor width", "Framing", "f-stop means", "Scene scale"):
        subprocess.run(["xdotool", "key", "Tab"], check=True)
        at = wait_for(f"the keys in {expected}",
                      lambda: (n := keys_are_at(root)) and n.get_name().startswith(expected) and n, 30)
        seen.append(at)
    tops = [Atspi.Component.get_extents(n, Atspi.CoordType.SCREEN).y for n in seen]
    check(tops == sorted(tops), f"Tab goes downward: {tops}")


def main():
    # The display answers before the window is started on it.
    wait_for("the display", lambda: subprocess.run(["xdotool", "getdisplaygeometry"], capture_output=True).returncode == 0)
    environment = dict(os.environ, QT_LINUX_ACCESSIBILITY_ALWAYS_ON="1", QT_QPA_PLATFORM="xcb")
    window = subprocess.Popen(sys.argv[1:], env=environment)
    try:
        def there():
            check_running(window)
            return application()
        look(wait_for("the window on the bus", there))
    finally:
        window.terminate()
        window.wait(20)


main()

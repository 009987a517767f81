#!/usr/bin/env bash
# The package on a bare Debian: made, installed in a fresh root with its dependencies, started, removed without a trace.
# Needs root and a mirror: ./test_package.sh BUILD [MIRROR]
set -euo pipefail
build=$(realpath "$1")
# Where this machine has its own packages from.
mirror=${2:-$(apt-get indextargets --format '$(REPO_URI)' | head -n 1)}
work=$(mktemp -d)
trap 'umount "$work/root/proc" 2>/dev/null || true; rm -rf "$work"' EXIT
fail() { echo "$*" >&2; exit 1; }

(cd "$work" && cpack --config "$build/CPackConfig.cmake" -B "$work" >/dev/null)
package=$(ls "$work"/*.deb)
if command -v mmdebstrap >/dev/null; then
    mmdebstrap --variant=minbase bookworm "$work/root" "$mirror"
else
    debootstrap --variant=minbase bookworm "$work/root" "$mirror"
fi
cp "$package" "$work/root/tmp/retinex.deb"
[ -f /etc/resolv.conf ] && cp -L /etc/resolv.conf "$work/root/etc/"
mount -t proc proc "$work/root/proc"
inside() { chroot "$work/root" env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin HOME=/root DEBIAN_FRONTEND=noninteractive "$@"; }
inside apt-get update -qq
inside find / -xdev \( -path /proc -o -path /var -o -path /tmp -o -path /root \) -prune -o -print | sort >"$work/before"
inside apt-get install -y -qq --no-install-recommends /tmp/retinex.deb >/dev/null
inside retinex-cli render /usr/share/retinex/demo/greenhouse.retinex --frames 30-30 --out /tmp/out --progress none
inside test -s /tmp/out/greenhouse.0030.exr || fail "the demo was not rendered"
inside env QT_QPA_PLATFORM=offscreen retinex --demo --frame 30 --shot /tmp/window.png
inside test -s /tmp/window.png || fail "the window does not start"
inside apt-get purge -y -qq retinex >/dev/null
inside apt-get autoremove --purge -y -qq >/dev/null
inside find / -xdev \( -path /proc -o -path /var -o -path /tmp -o -path /root \) -prune -o -print | sort >"$work/after"
left=$(comm -13 "$work/before" "$work/after" | grep -i retinex || true)
[ -z "$left" ] || fail "left behind: $left"
echo "$(basename "$package"): installed, started, rendered, removed"

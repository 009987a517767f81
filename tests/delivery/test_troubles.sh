#!/usr/bin/env bash
# What goes wrong around a delivery is said, and the rest goes on: a full disk, a folder that is read-only or vanishes, an
# input that vanishes half-way. ./test_troubles.sh CLI DEMO
set -euo pipefail
cli=$1 demo=$2
# Small and read-only disks are mounted in a name space of its own.
if [ "${3:-}" != inside ]; then
    unshare -rm true 2>/dev/null || { echo "skipped: no mounts of one's own here"; exit 77; }
    exec unshare -rm "$0" "$cli" "$demo" inside
fi
work=$(mktemp -d)
trap 'umount "$work"/small "$work"/locked 2>/dev/null; rm -rf "$work"' EXIT
fail() { echo "$*" >&2; cat "$work/said" >&2; exit 1; }
mkdir "$work/job" "$work/small" "$work/locked"
for frame in $(seq -f %04g 1 6); do cp "$demo/greenhouse.$frame.exr" "$work/job/"; done
cat >"$work/job/job.retinex" <<JSON
{"format": 3,
 "passes": {"colour": {"file": "greenhouse.####.exr"}, "depth": {"file": "", "channel": "Z"}},
 "frames": {"first": 1, "last": 6},
 "shots": [{"lens": {"fStop": 1.4}, "focus": {"distance": 2.3}}],
 "deliveries": [{"id": "1", "name": "plates"},
                {"id": "2", "name": "movie", "file": "ffv1", "fileName": "{project}_{delivery}"}]}
JSON
cd "$work"
render() { "$cli" render job/job.retinex --progress none "$@" >said 2>&1; }
says() { grep -q -- "$1" said || fail "not said: $1"; }
render --out whole --delivery plates || fail "undisturbed, it failed"
one=$(stat -c %s whole/job.0001.exr)

# A disk that holds three frames and a half, filled up by somebody else once the delivery has begun.
mount -t tmpfs -o size=$((one * 7)) none small
render --out small --delivery plates --frames 1 || fail "a frame did not fit"
head -c $((one * 5 / 2)) /dev/zero >small/other
render --out small --delivery plates --resume && fail "six frames fitted on a disk for three"
says "is full. Free some space"
for file in small/*.exr; do cmp -s "$file" "whole/${file#small/}" || fail "$file is not whole"; done
[ -z "$(find small -name '.*part*')" ] || fail "something half-written stays"
render --out small/film --delivery movie && fail "a movie fitted on a full disk"
[ -z "$(find small/film -name '*.mkv')" ] || fail "a part of a movie stays"
rm small/other
render --out small --delivery plates --resume || fail "it did not go on once there was room"
for file in whole/*.exr; do cmp -s "$file" "small/${file#whole/}" || fail "$file differs in the end"; done

# A read-only disk: said before anything is rendered.
mount -t tmpfs -o ro none locked
render --out locked --delivery plates && fail "a read-only folder was written to"
says "locked: nothing can be written to this folder"

# The folder vanishes half-way: each frame after that is named, and a run after it makes them.
"$cli" render job/job.retinex --progress none --out gone --delivery plates >said 2>&1 & process=$!
for _ in $(seq 500); do [ -f gone/job.0002.exr ] && break; sleep 0.01; done
mv gone vanished # at once: what is written meanwhile would keep it from being removed
wait $process && fail "it went well without a folder"
says "there is no folder"
render --out gone --delivery plates --resume || fail "it did not go on"
for file in whole/*.exr; do cmp -s "$file" "gone/${file#whole/}" || fail "$file differs in the end"; done

# An input vanishes half-way: that frame is named, the others are there.
"$cli" render job/job.retinex --progress none --out part --delivery plates >said 2>&1 & process=$!
for _ in $(seq 500); do [ -f part/job.0001.exr ] && break; sleep 0.01; done
mv job/greenhouse.0005.exr away.exr
wait $process && fail "a frame without its passes was delivered"
says "greenhouse.0005.exr"
[ "$(ls part/*.exr | wc -l)" = 5 ] && [ ! -f part/job.0005.exr ] || fail "the others are not there: $(ls part)"
mv away.exr job/greenhouse.0005.exr
render --out part --delivery plates --resume || fail "it did not go on"
cmp -s part/job.0005.exr whole/job.0005.exr || fail "the frame differs in the end"
echo "full and read-only disks, what vanishes: said, and gone on with"

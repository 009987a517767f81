#!/usr/bin/env bash
# A delivery that is killed again and again, at any moment: every file is whole or absent, going on completes it, and what
# comes out is bit for bit that of a run nobody disturbed. ./test_kills.sh CLI DEMO KILLS
set -euo pipefail
cli=$1 demo=$2 kills=${3:-20}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
fail() { echo "$*" >&2; exit 1; }
mkdir "$work/job"
for frame in $(seq -f %04g 1 8); do cp "$demo/greenhouse.$frame.exr" "$work/job/"; done
cat >"$work/job/job.retinex" <<JSON
{"format": 3,
 "passes": {"colour": {"file": "greenhouse.####.exr"}, "depth": {"file": "", "channel": "Z"}},
 "frames": {"first": 1, "last": 8},
 "shots": [{"lens": {"fStop": 1.4}, "focus": {"distance": 2.3}, "finish": {"grain": {"amount": 0.02}}}],
 "deliveries": [{"id": "1", "name": "plates"},
                {"id": "2", "name": "map", "what": "depthmap", "file": "png", "samples": "16"},
                {"id": "3", "name": "movie", "file": "ffv1", "fileName": "{project}_{delivery}"}]}
JSON
cd "$work"
render() { "$cli" render job/job.retinex --out "$1" --resume --progress none; }
render whole
movie=1
[ -f whole/movie/job_movie.mkv ] || movie=0
pixels() { ffmpeg -v error -i "$1" -f rawvideo -pix_fmt rgb48le - | cksum; }
for ((i = 0; i < kills; ++i)); do
    # From the start to past the end, in even steps; now and then all is begun anew.
    ((i % 12 == 0)) && rm -rf cut
    (exec "$cli" render job/job.retinex --out cut --resume --progress none) & process=$! # itself, no shell around it
    sleep "$(printf '0.%03d' $((i * 397 % 1000)))"
    kill -9 $process 2>/dev/null || true
    wait $process 2>/dev/null || true
    for file in cut/plates/*.exr cut/map/*.png; do
        [ -f "$file" ] || continue
        cmp -s "$file" "whole/${file#cut/}" || fail "after kill $i: $file is not whole"
    done
    [ -f cut/movie/job_movie.mkv ] && [ "$(pixels cut/movie/job_movie.mkv)" != "$(pixels whole/movie/job_movie.mkv)" ] &&
        fail "after kill $i: the movie is not whole"
done
render cut
for file in whole/plates/*.exr whole/map/*.png; do cmp -s "$file" "cut/${file#whole/}" || fail "$file differs in the end"; done
[ $movie = 0 ] || [ "$(pixels cut/movie/job_movie.mkv)" = "$(pixels whole/movie/job_movie.mkv)" ] || fail "the movie differs in the end"
left=$(find cut -name '*.exr' -o -name '*.png' -o -name '*.mkv' | grep -c '/job' || true)
[ "$left" = $((16 + movie)) ] || fail "$left files in the end"
echo "$kills kills: every file whole or absent, and the same in the end"

#!/usr/bin/env bash
# Sets the machine up, builds, and runs: ./retinex.sh demo | test | install | package | build | bench | fuzz
# People who know CMake need no script: see CONTRIBUTING.md.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")"

say() { printf '== %s\n' "$*"; }

packages=(build-essential cmake ninja-build pkg-config
    qt6-base-dev qt6-svg-dev qt6-tools-dev qt6-l10n-tools libopenexr-dev libopencolorio-dev libtbb-dev libhwy-dev
    libfmt-dev nlohmann-json3-dev libcli11-dev fontconfig
    libopenimageio-dev libtinygltf-dev libopencv-imgproc-dev libopencv-video-dev
    libopencv-calib3d-dev)
test_packages=(libembree-dev openexr openimageio-tools netpbm xvfb xauth
    clang libclang-rt-14-dev clang-format povray
    ffmpeg slurm-wlm munge file appstream desktop-file-utils man-db
    at-spi2-core dbus gir1.2-atspi-2.0 python3-gi xdotool)

install() {
    local missing=() name
    for name in "$@"; do
        dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'ok installed' || missing+=("$name")
    done
    [ ${#missing[@]} -eq 0 ] && { say "All packages are there."; return; }
    local root=()
    [ "$(id -u)" -eq 0 ] || root=(sudo)
    say "Installing: ${missing[*]}"
    "${root[@]}" apt-get update -qq
    DEBIAN_FRONTEND=noninteractive "${root[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

build() {
    say "Configuring (release)"
    cmake --preset release "$@" >/dev/null
    say "Building"
    cmake --build --preset release
}

# Formatted code, includes that point one way.
look() {
    say "Looking at the sources"
    git ls-files '*.cpp' '*.h' | xargs clang-format-14 --dry-run -Werror
    python3 tests/arrows.py
}

# Every fuzzer for so many seconds, from the corpus in the repository. What libraries leak on damaged pictures is theirs.
fuzz() {
    say "Fuzzing, $1 s for each reader"
    local root=$PWD target found
    for target in exr picture scene project frames options tables areas; do
        found=$(mktemp -d)
        if ! (cd "$found" && ASAN_OPTIONS=detect_leaks=0 "$root/build/fuzz/bin/fuzz_$target" -max_total_time="$1" \
            -timeout=25 -rss_limit_mb=4000 -max_len=16384 -print_final_stats=1 \
            "$found" "$root/fuzz/corpus/$target" >"$found/log" 2>&1); then
            tail -n 40 "$found/log"
            say "fuzz_$target: found something; the input lies in $found"
            return 1
        fi
        say "fuzz_$target: nothing found ($(grep -h number_of_executed "$found/log"))"
        rm -rf "$found"
    done
}

command=${1:-help}
[ $# -gt 0 ] && shift
case $command in
demo)
    install "${packages[@]}"
    build -DRETINEX_TESTS=OFF -DRETINEX_BENCH=OFF
    say "Opening the demo"
    # With --shot no monitor is needed.
    if [ -z "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ] || [[ " $* " == *" --shot "* ]]; then
        export QT_QPA_PLATFORM=${QT_QPA_PLATFORM:-offscreen}
    fi
    exec build/release/bin/retinex --demo "$@"
    ;;
test)
    install "${packages[@]}" "${test_packages[@]}"
    look
    build -DRETINEX_TESTS=ON -DRETINEX_BENCH=ON
    say "Testing"
    ctest --preset release -j "$(nproc)" "$@"
    say "Testing the core under sanitizers"
    cmake --preset fuzz >/dev/null
    cmake --build --preset fuzz
    ctest --preset fuzz -j "$(nproc)"
    fuzz 10
    ;;
fuzz)
    install "${packages[@]}" "${test_packages[@]}"
    cmake --preset fuzz -DRETINEX_TESTS=OFF >/dev/null
    cmake --build --preset fuzz
    fuzz "${1:-600}"
    ;;
build)
    install "${packages[@]}" "${test_packages[@]}"
    build -DRETINEX_TESTS=ON -DRETINEX_BENCH=ON
    ;;
package | install)
    install "${packages[@]}" file
    build -DRETINEX_TESTS=OFF -DRETINEX_BENCH=OFF
    say "Packing"
    (cd build/release && cpack >/dev/null)
    package=$(ls -t build/release/retinex_*.deb | head -n 1)
    say "$package"
    [ "$command" = package ] && exit 0
    root=()
    [ "$(id -u)" -eq 0 ] || root=(sudo)
    DEBIAN_FRONTEND=noninteractive "${root[@]}" apt-get install -y -qq --no-install-recommends "./$package"
    say "Installed: retinex, retinex-cli"
    ;;
bench)
    install "${packages[@]}" "${test_packages[@]}" povray-examples
    build -DRETINEX_TESTS=ON -DRETINEX_BENCH=ON
    exec build/release/bin/retinex-bench "$@"
    ;;
*)
    cat <<'HELP'
./retinex.sh demo [--shot FILE.png]   set up, build, open the window with the demo
./retinex.sh test                     set up, build, run every test, headless
./retinex.sh install                  set up, build the Debian package, install it (package: build it only)
./retinex.sh build                    set up and build everything
./retinex.sh bench [options]          quality against the ray tracer and speed against peers
./retinex.sh fuzz [SECONDS]           fuzz every reader of files (600 s each)
HELP
    [ "$command" = help ] || exit 2
    ;;
esac

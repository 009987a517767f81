#!/usr/bin/env bash
# Installs into a folder of its own and tries what was installed: ./test_installed.sh BUILD SOURCE
set -euo pipefail
build=$1 source=$2
root=$(mktemp -d)
trap 'rm -rf "$root"' EXIT
fail() { echo "$*" >&2; exit 1; }

cmake --install "$build" --prefix "$root/usr" --strip >/dev/null
for file in bin/retinex bin/retinex-cli lib/retinex/retinex_formats.so share/applications/org.retinex.retinex.desktop \
    share/metainfo/org.retinex.retinex.metainfo.xml share/mime/packages/retinex.xml share/thumbnailers/retinex.thumbnailer \
    share/icons/hicolor/scalable/apps/retinex.svg share/icons/hicolor/scalable/mimetypes/retinex-project.svg \
    share/man/man1/retinex.1 share/man/man1/retinex-cli.1 share/bash-completion/completions/retinex-cli \
    share/retinex/demo/greenhouse.retinex; do
    [ -f "$root/usr/$file" ] || fail "$file is not installed"
done
for binary in bin/retinex bin/retinex-cli lib/retinex/retinex_formats.so; do
    if grep -aqF -e "$source" -e "$build" "$root/usr/$binary"; then
        grep -aoF -m 3 -e "$source" "$root/usr/$binary" | head -3 >&2
        fail "$binary names a path of the machine it was built on"
    fi
    if readelf -d "$root/usr/$binary" | grep -qE 'R(UN)?PATH'; then fail "$binary has a path to libraries"; fi
done
export XDG_CONFIG_HOME=$root/config XDG_CACHE_HOME=$root/cache XDG_RUNTIME_DIR=$root QT_QPA_PLATFORM=offscreen
export PATH=$root/usr/bin:$PATH
cli=$root/usr/bin/retinex-cli
demo=$root/usr/share/retinex/demo
"$cli" --version | grep -q "$(sed -n 's/.*VERSION \([0-9.]*\) LANG.*/\1/p' "$source/CMakeLists.txt")" || fail "another version"
"$cli" render "$demo/greenhouse.retinex" --frames 30-30 --out "$root/out" --progress none
[ -s "$root/out/greenhouse.0030.exr" ] || fail "the demo was not rendered"
# The module for other formats is found from where it was installed.
printf 'P6\n2 2\n255\n123456789012' >"$root/tiny.ppm"
"$cli" inspect "$root/tiny.ppm" >/dev/null || fail "the formats module was not found"
"$root/usr/bin/retinex" --demo --frame 30 --size 900x600 --shot "$root/window.png" 2>/dev/null
[ -s "$root/window.png" ] || fail "the window does not start with its demo"
# What the man page and the completion speak of is there.
for command in $(sed -n 's/^\.BI \([a-z]*\) .*/\1/p' "$source/packaging/retinex-cli.1"); do
    "$cli" "$command" --help >/dev/null || fail "there is no command $command"
done
words=$(bash -c "source '$root/usr/share/bash-completion/completions/retinex-cli'
    COMP_WORDS=(retinex-cli ren) COMP_CWORD=1; _retinex_cli; echo \"\${COMPREPLY[*]}\"")
[ "$words" = render ] || fail "completion says \"$words\" for ren"
if command -v man >/dev/null; then
    warnings=$(LC_ALL=C.UTF-8 MANROFFSEQ='' MANWIDTH=80 man --warnings -E UTF-8 -l -Tutf8 -Z "$root/usr/share/man/man1/retinex-cli.1" 2>&1 >/dev/null || true)
    [ -z "$warnings" ] || fail "the man page: $warnings"
fi
echo "installed, started, rendered"

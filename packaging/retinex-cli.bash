# Completion of retinex-cli and retinex for bash: commands and their options as they say them themselves.
_retinex_cli()
{
    local current=${COMP_WORDS[COMP_CWORD]} command=
    [ "$COMP_CWORD" -gt 1 ] && command=${COMP_WORDS[1]}
    if [ -z "$command" ]; then
        mapfile -t COMPREPLY < <(compgen -W "$(retinex-cli --help 2>/dev/null |
            sed -n '/^Subcommands:/,$ s/^  \([a-z]\+\) .*/\1/p')" -- "$current")
        return
    fi
    case $current in
    -*)
        mapfile -t COMPREPLY < <(compgen -W "$(retinex-cli "$command" --help 2>/dev/null |
            grep -o -- '--[a-z][a-z-]*' | sort -u)" -- "$current")
        ;;
    *)
        compopt -o filenames
        mapfile -t COMPREPLY < <(compgen -f -- "$current")
        ;;
    esac
}
complete -F _retinex_cli retinex-cli
complete -o default -W "--demo --frame --view --size --manual --shot --help --version" retinex

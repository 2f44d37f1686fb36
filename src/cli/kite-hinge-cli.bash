# bash completion for kite-hinge-cli
_kite_hinge_cli() {
    local word=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD - 1]}
    local common="--handed --club --convention --separation --top --cutoff --swing --school --face --goal --up --target --target-deg --names --help"
    if [ "$COMP_CWORD" -eq 1 ]; then
        COMPREPLY=($(compgen -W "analyse convert compare diagnose film live plan record report simulate --help --version" -- "$word"))
        return
    fi
    if [ "$COMP_CWORD" -eq 2 ] && [ "$before" = record ]; then
        COMPREPLY=($(compgen -W "add list show get export import backup delete restore empty-bin check --store --json --help" -- "$word"))
        return
    fi
    case $before in
        --handed) COMPREPLY=($(compgen -W "right left" -- "$word")); return ;;
        --club) COMPREPLY=($(compgen -W "driver wood iron wedge" -- "$word")); return ;;
        --convention) COMPREPLY=($(compgen -W "axis resultant plane" -- "$word")); return ;;
        --separation) COMPREPLY=($(compgen -W "projected joint" -- "$word")); return ;;
        --school) COMPREPLY=($(compgen -W "none stretch depth-first own-pivot shift-then-turn finish-first" -f -- "$word")); return ;;
        --face) COMPREPLY=($(compgen -W "square shut open" -- "$word")); return ;;
        --place) COMPREPLY=($(compgen -W "indoors range" -- "$word")); return ;;
        --limit) COMPREPLY=($(compgen -W "low-back lead-knee trail-hip shoulder wrist balance" -- "$word")); return ;;
        --goal) COMPREPLY=($(compgen -W "none speed straight strike strain" -- "$word")); return ;;
        --top) COMPREPLY=($(compgen -W "club arm" -- "$word")); return ;;
        --fault) COMPREPLY=($(compgen -W "shallow-hip-load backswing-slide reverse-tilt short-torso-turn over-hinge late-pelvis-start upper-body-first no-recentre lead-hip-up no-drop no-stretch over-separation spin-out slide cast early-rise early-extension outside-path arms-behind lead-hip-not-back flip out-of-order bunched-peaks no-slow-down hip-stall square-hips over-open hang-back no-push early-club-peak short-finish hips-ahead" -- "$word")); return ;;
    esac
    case $word in
        -*)
            case ${COMP_WORDS[1]} in
                analyse) COMPREPLY=($(compgen -W "--json --csv --table --launch --force $common" -- "$word")) ;;
                convert) COMPREPLY=($(compgen -W "--series --overwrite $common" -- "$word")) ;;
                compare) COMPREPLY=($(compgen -W "--before --after --question --sessions --json $common" -- "$word")) ;;
                diagnose) COMPREPLY=($(compgen -W "--why --launch --force $common" -- "$word")) ;;
                film) COMPREPLY=($(compgen -W "--capture-rate --times --help" -- "$word")) ;;
                live) COMPREPLY=($(compgen -W "--port --address --swings --seconds --record --replay $common" -- "$word")) ;;
                plan) COMPREPLY=($(compgen -W "--open --out --calendar --golfer --from --lesson --days --minutes --place --limit --done --on --rehearsal --overwrite $common" -- "$word")) ;;
                record) COMPREPLY=($(compgen -W "--store --json --golfer --lesson --find --bin --overwrite $common" -- "$word")) ;;
                report) COMPREPLY=($(compgen -W "--out --store --golfer --lesson --before --before-lesson --title --colour --plan --one-thing --homework --note --launch --force --overwrite $common" -- "$word")) ;;
                simulate) COMPREPLY=($(compgen -W "--fault --handed --club --seed --rate --noise-mm --view --mark-error-px --film --film-height --blur-ms --grain --stored-rate --turned --silent --overwrite --help" -- "$word")) ;;
            esac
            return
            ;;
    esac
    COMPREPLY=($(compgen -f -- "$word"))
}
complete -o filenames -F _kite_hinge_cli kite-hinge-cli

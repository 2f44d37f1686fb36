// Rule files as they are, for the linker: they are part of the program, and copies of them stand
// beside it for whoever wants to change them.
    .section .rodata
    .macro file name, path
    .globl kite_rules_\name
    .globl kite_rules_\name\()_end
kite_rules_\name:
    .incbin "\path"
kite_rules_\name\()_end:
    .byte 0
    .endm

    file faults, "faults.json"
    file drills, "drills.json"
    file none, "schools/none.json"
    file stretch, "schools/stretch.json"
    file depth_first, "schools/depth-first.json"
    file own_pivot, "schools/own-pivot.json"
    file shift_then_turn, "schools/shift-then-turn.json"
    file finish_first, "schools/finish-first.json"

    .section .note.GNU-stack, "", @progbits

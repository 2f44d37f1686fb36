// What app.qrc lists, as rcc packs it; theme.cpp registers it.
    .section .rodata
    .balign 16
    .global kite_resources
kite_resources:
    .incbin "app.rcc"
    .section .note.GNU-stack,"",%progbits

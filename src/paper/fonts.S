// What fonts.qrc lists, as rcc packs it; fonts.cpp registers it.
    .section .rodata
    .balign 16
    .global kite_fonts
kite_fonts:
    .incbin "fonts.rcc"
    .section .note.GNU-stack,"",%progbits

# Every own target links this; headers of other libraries are included as SYSTEM by their targets.
add_library(kite_warnings INTERFACE)
target_compile_options(kite_warnings INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow)
if(KITE_WARNINGS_AS_ERRORS)
    target_compile_options(kite_warnings INTERFACE -Werror)
endif()

// Writes docs/catalogue.md. Usage: kite-hinge-make-docs FILE
#include "formats/results/catalogue_markdown.h"
#include "formats/text/bytes.h"

#include <cstdio>

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fputs("usage: kite-hinge-make-docs FILE\n", stderr);
        return 2;
    }
    return kite::formats::write_bytes(argv[1], kite::formats::catalogue_markdown()).empty() ? 0 : 1;
}

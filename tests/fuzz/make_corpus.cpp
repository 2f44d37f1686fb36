// Writes one small swing a format, the seeds of the fuzzer. Usage: kite-make-corpus FOLDER

#include "formats/text/bytes.h"
#include "support/swing_files.h"

#include <iostream>

int main(int argc, char** argv) {
    if (argc != 2)
        return 2;
    kite::simulate::SwingParameters parameters;
    parameters.rate_hz = 60.0;
    parameters.lead_in_s = 0.4;
    parameters.follow_s = 0.3;
    for (const auto& [name, bytes] : kite::test::swing_files(parameters)) {
        const auto folder = std::filesystem::path(argv[1]) / std::filesystem::path(name).stem() /
                            std::filesystem::path(name).extension().string().substr(1);
        std::filesystem::create_directories(folder);
        if (kite::has_errors(kite::formats::write_bytes(folder / "seed", bytes)))
            return 1;
        std::cout << name << " " << folder.string() << "\n";
    }
    return 0;
}

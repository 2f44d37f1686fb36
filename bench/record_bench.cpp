// A record of ten thousand swings: adding, opening, listing, searching, and its size.

#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"
#include "formats/text/bytes.h"
#include "store/measured.h"
#include "store/record.h"

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

using namespace kite;

namespace {

double ms_of(const std::function<void()>& work) {
    const auto begin = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin)
        .count();
}

/// Of several: other work on the machine lengthens some.
double least_ms(const std::function<void()>& work) {
    double least = ms_of(work);
    for (int i = 0; i < 4; ++i)
        least = std::min(least, ms_of(work));
    return least;
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 3) {
        std::fprintf(stderr, "Usage: kite-record-bench FOLDER CAPTURE [SWINGS]\n");
        return 2;
    }
    const std::filesystem::path folder(argv[1]);
    const std::string file = argv[2];
    const int count = argc > 3 ? std::atoi(argv[3]) : 10000;
    const std::string bytes = formats::read_bytes(file).value;
    const auto place = folder / "record.db";
    const Rules& rules = formats::plain_rules();

    // What a swing costs besides being kept.
    Analysis analysis;
    Reading reading;
    const double analysing_ms = least_ms([&] {
        const auto take = formats::read_take(bytes, file, {});
        analysis = analyse(take.value, {}).value;
        reading = read_swing(analysis, rules);
    });
    const double packing_ms =
        least_ms([&] { store::new_swing(file, bytes, {}, analysis, reading, rules, {}); });

    auto opened = store::Record::open(place, store::Opening::Write);
    if (!opened.value)
        return 1;
    const store::NewSwing made = store::new_swing(file, bytes, {}, analysis, reading, rules, {});
    double adding_ms = 0.0;
    for (int i = 0; i < count; i += 16) {
        std::vector<store::NewSwing> swings;
        for (int k = i; k < std::min(count, i + 16); ++k) {
            store::NewSwing swing = made;
            // Another capture of the same size; it is not read again here.
            char digits[65];
            std::snprintf(digits, sizeof digits, "%064x", static_cast<unsigned>(k));
            swing.sha256 = digits;
            swing.file = "swing " + std::to_string(k) + ".c3d";
            swings.push_back(std::move(swing));
        }
        const std::string golfer = "Golfer " + std::to_string(i / 16 % 200);
        adding_ms += ms_of([&] { opened.value->add(swings, golfer, "Spring"); });
    }
    opened.value.reset();
    const double size_mb = static_cast<double>(std::filesystem::file_size(place)) / 1e6;
    std::printf("%d swings of %.0f kB: %.0f MB, %.0f kB a swing; a capture is packed to %.0f kB\n",
                count, static_cast<double>(bytes.size()) / 1e3, size_mb, 1e3 * size_mb / count,
                static_cast<double>(made.packed.size()) / 1e3);
    std::printf("analysing %.1f ms; hashing and packing %.1f ms; keeping %.2f ms a swing\n",
                analysing_ms, packing_ms, adding_ms / count);
    std::unique_ptr<store::Record> record;
    std::printf("opened to write in %.0f ms",
                ms_of([&] { record = store::Record::open(place, store::Opening::Write).value; }));
    record.reset();
    std::printf(", to read in %.0f ms\n",
                ms_of([&] { record = store::Record::open(place, store::Opening::Read).value; }));
    std::size_t found = 0;
    const auto search = [&](const char* words) {
        const double ms = least_ms([&] {
            found = record->swings({"", "", words, false}).value.size();
        });
        std::printf("search \"%s\": %zu found in %.1f ms\n", words, found, ms);
    };
    search("golfer 17");
    search("9999");
    search("golfer 1 spring");
    std::printf("one golfer's swings: %.1f ms\n", least_ms([&] {
                    found = record->swings({"Golfer 17", "", "", false}).value.size();
                }));
    std::printf("all of them: %.0f ms\n",
                least_ms([&] { found = record->swings({}).value.size(); }));
    return 0;
}

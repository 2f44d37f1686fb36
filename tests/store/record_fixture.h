#pragma once

#include "store/packing.h"
#include "store/record.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <memory>
#include <random>
#include <string>
#include <vector>

namespace kite::test {

/// Bytes that nothing can pack away, so that pages are filled.
inline std::string noise(std::uint32_t seed, std::size_t size = 20000) {
    std::mt19937 random(seed);
    std::string out(size, '\0');
    for (char& c : out)
        c = static_cast<char>(random());
    return out;
}

inline store::NewSwing swing_of(const std::string& bytes, const std::string& file) {
    store::NewSwing out;
    out.packed = store::pack(bytes);
    out.size = bytes.size();
    out.sha256 = store::sha256_of(bytes);
    out.file = file;
    out.handed = "left";
    out.first_fix = "cast";
    out.first_fix_words = "Wrists give way early";
    out.result = store::pack("{\"file\":\"" + file + "\"}");
    return out;
}

class TheRecord : public testing::Test {
protected:
    std::unique_ptr<store::Record> open(store::Opening opening = store::Opening::Write,
                                        const char* name = "record.db") {
        auto opened = store::Record::open(folder.path(name), opening);
        findings = opened.findings;
        return std::move(opened.value);
    }
    /// Three swings of two golfers.
    std::vector<std::string> fill(store::Record& record) {
        std::vector<std::string> ids;
        for (std::uint32_t i = 0; i < 3; ++i) {
            const auto kept = record.add({swing_of(noise(i), "s" + std::to_string(i) + ".csv")},
                                         i < 2 ? "Ottoline Vroom" : "Bo", "Spring");
            EXPECT_TRUE(kept.ok());
            ids.push_back(kept.value.front().id);
        }
        return ids;
    }
    std::string bytes(const char* name = "record.db") {
        return TemporaryFolder::read(folder.path(name));
    }
    TemporaryFolder folder;
    std::vector<Finding> findings;
};

} // namespace kite::test

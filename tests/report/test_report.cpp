#include "core/measures/analyse.h"
#include "formats/practice/drills_json.h"
#include "formats/rules/rules_json.h"
#include "report/report.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "support/comma_locale.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace kite::report {
namespace {

/// Swings of one golfer as the simulator makes them, read by the shipped rules.
struct Set {
    explicit Set(std::vector<std::uint32_t> seeds, const std::string& fault = {}) {
        for (const std::uint32_t seed : seeds) {
            simulate::SwingParameters parameters;
            parameters.seed = seed;
            parameters.noise_mm = 0.3;
            if (!fault.empty())
                simulate::plant(parameters, fault, 1.5);
            analyses.push_back(analyse(simulate::make_take(parameters), {}).value);
        }
        for (const Analysis& analysis : analyses)
            readings.push_back(read_swing(analysis, formats::plain_rules()));
    }
    Told told() const {
        Told out;
        for (const Analysis& analysis : analyses)
            out.swings.push_back(&analysis);
        for (const Reading& reading : readings)
            out.readings.push_back(&reading);
        out.drills = &formats::shipped_drills();
        return out;
    }
    std::vector<Analysis> analyses;
    std::vector<Reading> readings;
};

/// All texts of blocks, in order, a line each.
std::string texts_of(const std::vector<Block>& blocks) {
    struct Reader {
        std::string out;
        void operator()(const Heading& it) { out += it.text + "\n"; }
        void operator()(const Paragraph& it) { out += it.text + "\n"; }
        void operator()(const Items& it) {
            for (const std::string& item : it.items)
                out += item + "\n";
        }
        void operator()(const Table& it) {
            for (const auto& row : it.rows) {
                for (const std::string& cell : row)
                    out += cell + " | ";
                out += "\n";
            }
        }
        void operator()(const Drawing& it) { out += it.says + "\n"; }
        void operator()(const Photo& it) { out += it.says + "\n"; }
        void operator()(const Columns& it) {
            for (const auto& column : it.columns)
                out += texts_of(column);
        }
    } reader;
    for (const Block& block : blocks)
        std::visit(reader, block.is);
    return reader.out;
}

bool has(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

TEST(Report, HasThePlannedFaultItsDrillAndTheCautionsOnTheGolfersPage) {
    const Set set({1, 2, 3}, "spin-out");
    Told told = set.told();
    told.homework = "Ten swings with the feet together.";
    const Report report = make_report(told);
    ASSERT_EQ(report.pages.size(), 2u);
    const std::string page = texts_of(report.pages.front().blocks);
    const Reading& reading = set.readings.front();
    ASSERT_TRUE(reading.first_fix.has_value());
    EXPECT_TRUE(has(page, reading.find(*reading.first_fix)->title)) << page;
    EXPECT_TRUE(has(page, "Your drill"));
    EXPECT_TRUE(has(page, "Ten swings with the feet together."));
    // The cautions that stand with every drill.
    for (const char* key : {"always", "coach"})
        EXPECT_TRUE(has(page, formats::shipped_drills().cautions.at(key))) << key;
}

TEST(Report, SaysSoWhereNothingIsToMend) {
    const Set set({1});
    ASSERT_FALSE(set.readings.front().first_fix.has_value());
    const std::string page = texts_of(make_report(set.told()).pages.front().blocks);
    EXPECT_TRUE(has(page, "Nothing to mend was found."));
    EXPECT_FALSE(has(page, "Your drill"));
    EXPECT_TRUE(has(page, formats::shipped_drills().cautions.at("always")));
}

TEST(Report, TheInstructorsOwnWordsComeFirst) {
    const Set set({1}, "spin-out");
    Told told = set.told();
    told.one_thing = "Let the chest wait.";
    const Report report = make_report(told);
    const std::string page = texts_of(report.pages.front().blocks);
    const std::size_t own = page.find("Let the chest wait.");
    ASSERT_NE(own, std::string::npos);
    EXPECT_LT(own, page.find("Measured: "));
}

TEST(Report, ADifferenceIsThatOfTheTwoValuesBesideIt) {
    const Set before({1, 2, 3}, "spin-out");
    const Set after({4, 5, 6});
    Told told = after.told();
    for (const Analysis& analysis : before.analyses)
        told.before.push_back(&analysis);
    const Report report = make_report(told);
    const Table* changes = nullptr;
    for (const Block& block : report.pages.back().blocks)
        if (const auto* table = std::get_if<Table>(&block.is);
            table != nullptr && table->head.size() == 6)
            changes = table;
    ASSERT_NE(changes, nullptr);
    const auto number = [](std::string text) {
        if (const auto minus = text.find("−"); minus != std::string::npos)
            text.replace(minus, std::string("−").size(), "-");
        return std::stod(text);
    };
    int compared = 0;
    for (const auto& row : changes->rows) {
        if (row[1] == "–" || row[2] == "–")
            continue;
        EXPECT_NEAR(number(row[3]), number(row[2]) - number(row[1]), 1e-9) << row[0];
        ++compared;
    }
    EXPECT_GT(compared, 3);
}

TEST(Report, MissingPartsAreNotShownAsMeasured) {
    Set set({1});
    set.analyses.front().sequence.parts[index_of(Segment::Torso)].reset();
    const Report report = make_report(set.told());
    const std::string numbers = texts_of(report.pages.back().blocks);
    EXPECT_TRUE(has(numbers, "torso | – | – | – | – | ")) << numbers;
}

TEST(Report, HtmlHoldsEveryTextAsText) {
    const Set set({1});
    Told told = set.told();
    told.title = "Lessons <script>alert(1)</script> & more";
    told.note = std::string("a \"quoted\" note") + '\x01';
    // Bytes whose base64 is a worked example of RFC 4648, section 10: "foob" is "Zm9vYg==".
    told.stills = {{"foob", 30.0, 40.0, "Face-on, <at> impact"}};
    const std::string html = to_html(make_report(told));
    EXPECT_TRUE(has(html, "data:image/png;base64,Zm9vYg==\""));
    EXPECT_TRUE(has(html, "alt=\"Face-on, &lt;at&gt; impact\""));
    EXPECT_FALSE(has(html, "<script"));
    EXPECT_TRUE(has(html, "Lessons &lt;script&gt;alert(1)&lt;/script&gt; &amp; more"));
    EXPECT_FALSE(has(html, std::string(1, '\x01')));
    // One file: nothing is fetched.
    std::string rest = html;
    const std::string inside = "src=\"data:";
    for (std::size_t at = 0; (at = rest.find(inside, at)) != std::string::npos;)
        rest.erase(at, inside.size());
    for (const char* outside : {"src=", "href=", "url(", "@import"})
        EXPECT_FALSE(has(rest, outside)) << outside;
}

// Lengths of a drawing with a decimal comma are no lengths: the same file wherever it is made.
TEST(Report, HtmlIsTheSameWhereACommaIsTheDecimalSign) {
    const Set set({1, 2});
    const std::string plain = to_html(make_report(set.told()));
    const test::CommaLocale comma;
    ASSERT_TRUE(comma.is_set()) << "the package \"locales\" is missing";
    EXPECT_EQ(to_html(make_report(set.told())), plain);
}

TEST(Report, TheStairSaysWhenEachPartWasFastest) {
    const Set set({1});
    const std::string page = texts_of(make_report(set.told()).pages.front().blocks);
    const auto& analysis = set.analyses.front();
    const double pelvis_ms =
        1e3 * (analysis.moments.reference_s() - analysis.sequence.find(Segment::Pelvis)->peak_t_s);
    EXPECT_TRUE(has(page, "pelvis " + std::to_string(std::lround(pelvis_ms)) + " ms before impact"))
        << page;
}

TEST(PaperColour, TakesWhatCanBeReadOnWhite) {
    // Contrast on white, from published examples for WCAG 2.1 (1.4.3): #767676 has 4.54 : 1,
    // #777777 has 4.48 : 1. From memory.
    EXPECT_TRUE(paper_colour("#767676").ok());
    EXPECT_TRUE(test::has_code(paper_colour("#777777").findings, "too-light"));
    EXPECT_EQ(paper_colour("#1F5F8B").value, "#1f5f8b");
    for (const char* bad : {"", "blue", "#12345", "#12345g", "123456", "#1234567", "# 12345"})
        EXPECT_TRUE(test::has_code(paper_colour(bad).findings, "no-colour")) << bad;
}

} // namespace
} // namespace kite::report

#include "cli/cli_fixture.h"

#include <filesystem>
#include <regex>
#include <sstream>

namespace kite::test {
namespace {

/// Reports as a user asks for them, read by tools that others made.
class ReportCommand : public Cli {
protected:
    std::string demo(const char* name) const {
        return std::string("'") + KITE_DEMO_FOLDER + "/" + name + "'";
    }
    /// What a tool of the system says of a file.
    Finished tool(const std::string& command) {
        const std::string whole = command + " >'" + folder.path("tool").string() + "' 2>&1";
        const int status = std::system(whole.c_str());
        return {WIFEXITED(status) ? WEXITSTATUS(status) : -1,
                TemporaryFolder::read(folder.path("tool")),
                {}};
    }
};

TEST_F(ReportCommand, PdfHasItsTextAndItsFonts) {
    const Finished made =
        run("report " + demo("06-jonas-driver.csv") + " " + demo("07-jonas-driver.csv") +
            " --golfer Jonas --title 'Heath Farm' --out " + quoted("r.pdf"));
    ASSERT_EQ(made.status, 0) << made.err;
    EXPECT_EQ(made.err, "");
    const Finished text = tool("pdftotext -layout " + quoted("r.pdf") + " -");
    ASSERT_EQ(text.status, 0) << text.out;
    for (const char* words : {"Heath Farm", "Jonas", "The one thing", "Take care", "see a doctor",
                              "lead arm", "page 1 of 2", "after", "fastest at", "finish"})
        EXPECT_NE(text.out.find(words), std::string::npos) << words << "\n" << text.out;
    // Every font is embedded, with a table back to letters (Poppler's columns emb, sub, uni).
    const Finished fonts = tool("pdffonts " + quoted("r.pdf") + " | tail -n +3");
    ASSERT_GT(lines(fonts.out), 0u);
    std::istringstream rows(fonts.out);
    for (std::string row; std::getline(rows, row);)
        EXPECT_TRUE(std::regex_search(row, std::regex(" yes (yes|no ) yes "))) << row;
    // Pictures are lines: there is no image in it.
    const Finished images = tool("pdfimages -list " + quoted("r.pdf") + " | tail -n +3");
    EXPECT_EQ(lines(images.out), 0u) << images.out;
}

TEST_F(ReportCommand, HtmlPassesAChecker) {
    ASSERT_EQ(
        run("plan " + demo("06-jonas-driver.csv") + " --place range --out " + quoted("p.json"))
            .status,
        0);
    const Finished made = run(
        "report " + demo("06-jonas-driver.csv") + " " + demo("07-jonas-driver.csv") + " --before " +
        demo("01-alva-iron.csv") + " " + demo("02-alva-iron.csv") + " --plan " + quoted("p.json") +
        " --colour '#1f5f8b' --note 'Wind <from> the left & cold' --out " + quoted("r.html"));
    ASSERT_EQ(made.status, 0) << made.err;
    // HTML Tidy: no error and no warning.
    const Finished checked = tool("tidy -q -e " + quoted("r.html"));
    EXPECT_EQ(checked.status, 0) << checked.out;
    EXPECT_EQ(checked.out, "");
    EXPECT_NE(TemporaryFolder::read(folder.path("r.html")).find("#1f5f8b"), std::string::npos);
}

TEST_F(ReportCommand, ALessonOfTheRecord) {
    const std::string store = " --store " + quoted("record.db");
    ASSERT_EQ(run("record add" + store + " --golfer Jonas --lesson Spring " +
                  demo("06-jonas-driver.csv") + " " + demo("07-jonas-driver.csv"))
                  .status,
              0);
    const Finished made =
        run("report" + store + " --golfer Jonas --lesson Spring --out " + quoted("record.html"));
    ASSERT_EQ(made.status, 0) << made.err;
    // The same swings from their files read the same.
    ASSERT_EQ(run("report " + demo("06-jonas-driver.csv") + " " + demo("07-jonas-driver.csv") +
                  " --golfer Jonas --lesson Spring --out " + quoted("files.html"))
                  .status,
              0);
    const auto body = [&](const char* name) {
        const std::string text = TemporaryFolder::read(folder.path(name));
        return text.substr(text.find("<main>"));
    };
    EXPECT_EQ(body("record.html"), body("files.html"));
    // A lesson that is not there.
    const Finished none =
        run("report" + store + " --golfer Jonas --lesson Autumn --out " + quoted("none.html"));
    EXPECT_EQ(none.status, 1);
    EXPECT_NE(none.err.find("no lesson \"Autumn\""), std::string::npos) << none.err;
    const Finished no_before =
        run("report" + store + " --golfer Jonas --before-lesson Nope --out " + quoted("none.html"));
    EXPECT_EQ(no_before.status, 1);
    EXPECT_NE(no_before.err.find("no lesson \"Nope\""), std::string::npos) << no_before.err;
    EXPECT_FALSE(std::filesystem::exists(folder.path("none.html")));
}

TEST_F(ReportCommand, SaysWhatIsWrongWithWhatWasAsked) {
    const std::string swing = demo("01-alva-iron.csv");
    EXPECT_EQ(run("report " + swing + " --out " + quoted("r.doc")).status, 2);
    EXPECT_EQ(run("report --out " + quoted("r.pdf")).status, 2);
    const Finished light = run("report " + swing + " --colour '#ffff00' --out " + quoted("r.pdf"));
    EXPECT_EQ(light.status, 2);
    EXPECT_NE(light.err.find("too light"), std::string::npos) << light.err;
    for (const char* out : {"no/such/folder/r.pdf", "no/such/folder/r.html"}) {
        const Finished failed = run("report " + swing + " --out " + quoted(out));
        EXPECT_EQ(failed.status, 1);
        EXPECT_NE(failed.err.find(out), std::string::npos) << failed.err;
    }
}

} // namespace
} // namespace kite::test

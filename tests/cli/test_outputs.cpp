// No command writes over what it reads, over a record, or over anything without being told to; and
// none ends well when not all that it printed was taken.

#include "cli/cli_fixture.h"

#include <filesystem>

using namespace kite::test;
namespace fs = std::filesystem;

namespace {

class CliOutputs : public Cli {
protected:
    void SetUp() override {
        ASSERT_EQ(run("simulate --fault cast=1.5 " + quoted("a.csv")).status, 0);
        before_ = bytes("a.csv");
    }
    std::string bytes(const std::string& name) const {
        return TemporaryFolder::read(folder.path(name));
    }
    void copy(const std::string& from, const std::string& to) {
        fs::copy_file(folder.path(from), folder.path(to));
    }
    /// Fails, and the file is what it was.
    void expect_left(const std::string& arguments, const std::string& file) {
        const std::string was = bytes(file);
        const Finished done = run(arguments);
        EXPECT_EQ(done.status, 1) << arguments;
        EXPECT_NE(done.err.find("left as it is"), std::string::npos) << done.err;
        EXPECT_EQ(bytes(file), was) << arguments;
    }
    std::string before_;
};

} // namespace

TEST_F(CliOutputs, AreNeverWhatIsRead) {
    copy("a.csv", "rep.html");
    copy("a.csv", "marks.film.json");
    fs::create_hard_link(folder.path("a.csv"), folder.path("same.csv"));
    fs::create_symlink(folder.path("a.csv"), folder.path("link.csv"));
    for (const char* said : {"", " --force", " --overwrite"}) {
        expect_left("convert " + quoted("a.csv") + " " + quoted("a.csv") + said, "a.csv");
        expect_left("convert " + quoted("a.csv") + " " + quoted("same.csv") + said, "a.csv");
        expect_left("convert " + quoted("a.csv") + " " + quoted("link.csv") + said, "a.csv");
        expect_left("report " + quoted("rep.html") + " --out " + quoted("rep.html") + said,
                    "rep.html");
        expect_left("plan " + quoted("marks.film.json") + " --out " + quoted("marks.film.json") +
                        said,
                    "marks.film.json");
        expect_left("plan " + quoted("a.csv") + " --calendar " + quoted("a.csv") + said, "a.csv");
    }
    EXPECT_EQ(bytes("a.csv"), before_);
}

TEST_F(CliOutputs, AreNeverARecord) {
    const std::string store = " --store " + quoted("r.db");
    ASSERT_EQ(run("record add" + store + " --golfer Ruth " + quoted("a.csv")).status, 0);
    copy("r.db", "another.db");
    const std::string id = run("record list" + store).out.substr(0, 36);
    for (const char* said : {"", " --force"})
        for (const char* target : {"r.db", "another.db"}) {
            expect_left("record export" + store + " --golfer Ruth " + quoted(target) + said,
                        target);
            expect_left("record get" + store + " " + id + " " + quoted(target) + said, target);
        }
    const Finished backed_up = run("record backup" + store + " " + quoted("another.db"));
    EXPECT_EQ(backed_up.status, 1);
    fs::copy_file(folder.path("r.db"), folder.path("r.html"));
    expect_left("report " + quoted("a.csv") + " --out " + quoted("r.html") + " --force", "r.html");
    EXPECT_EQ(run("record check" + store).status, 0);
    EXPECT_EQ(lines(run("record list" + store).out), 1U);
}

TEST_F(CliOutputs, ReplaceOnlyWhenTold) {
    folder.write("old.txt", "mine");
    for (const char* name : {"old.trc", "old.html", "old.json", "old.zip", "old.c3d"})
        copy("old.txt", name);
    const std::string store = " --store " + quoted("r.db");
    ASSERT_EQ(run("record add" + store + " --golfer Ruth " + quoted("a.csv")).status, 0);
    const std::string commands[][2] = {
        {"report " + quoted("a.csv") + " --out " + quoted("old.html"), "old.html"},
        {"plan " + quoted("a.csv") + " --out " + quoted("old.json"), "old.json"},
        {"record export" + store + " --golfer Ruth " + quoted("old.zip"), "old.zip"},
        {"simulate " + quoted("old.c3d"), "old.c3d"},
        {"convert " + quoted("old.c3d") + " " + quoted("old.trc"), "old.trc"}};
    for (const auto& [command, file] : commands) {
        expect_left(command, file);
        const Finished told = run(command + " --force");
        EXPECT_EQ(told.status, 0) << command << told.err;
        EXPECT_NE(bytes(file), "mine") << command;
    }
    for (const auto& file : fs::directory_iterator(folder.path("")))
        EXPECT_NE(file.path().extension(), ".part") << "nothing is left behind";
}

// /dev/full takes nothing (full(4)).
TEST_F(CliOutputs, AFullDiskUnderStandardOutputIsNoSuccess) {
    const std::string store = " --store " + quoted("r.db");
    ASSERT_EQ(run("record add" + store + " " + quoted("a.csv")).status, 0);
    const std::string a = quoted("a.csv");
    for (const std::string& command : {"analyse " + a, "analyse --json " + a, "analyse --csv " + a,
                                       "compare --before " + a + " --after " + a, "diagnose " + a,
                                       "plan " + a, "record list" + store, "record check" + store,
                                       std::string("--help"), std::string("--version")}) {
        const int status = std::system(
            (std::string(KITE_CLI) + " " + command + " >/dev/full 2>" + quoted("err")).c_str());
        EXPECT_EQ(WIFEXITED(status) ? WEXITSTATUS(status) : -1, 1) << command;
        EXPECT_NE(bytes("err").find("standard output"), std::string::npos) << command;
    }
}

// Whoever reads the beginning alone costs no tick.
TEST_F(CliOutputs, ATickIsKeptWhoeverReads) {
    ASSERT_EQ(
        run("plan " + quoted("a.csv") + " --from 2026-11-30 --out " + quoted("p.json")).status, 0);
    const Json plan = Json::parse(bytes("p.json"));
    const std::string day = plan.at("days").at(0).at("date").get<std::string>();
    ASSERT_FALSE(plan.at("days").at(0).value("done", false));
    const std::string command = std::string(KITE_CLI) + " plan --open " + quoted("p.json") +
                                " --done " + day + " 2>/dev/null | true";
    ASSERT_EQ(std::system(command.c_str()), 0);
    EXPECT_TRUE(Json::parse(bytes("p.json")).at("days").at(0).at("done").get<bool>());
}

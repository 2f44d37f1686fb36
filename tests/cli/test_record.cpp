// The record on the command line: killed, on a full disk, by two at once.

#include "cli/cli_fixture.h"
#include "core/base/results_version.h"

#include <csignal>
#include <fcntl.h>
#include <map>
#include <random>
#include <sstream>
#include <thread>
#include <unistd.h>

using namespace kite::test;

namespace {

class RecordCli : public Cli {
protected:
    void SetUp() override {
        for (const char* seed : {"1", "2", "3", "4"})
            ASSERT_EQ(run("simulate --handed left --club driver --noise-mm 0.5 --seed " +
                          std::string(seed) + " " + quoted(std::string("s") + seed + ".csv"))
                          .status,
                      0);
    }
    std::string all_files() const {
        return quoted("s1.csv") + " " + quoted("s2.csv") + " " + quoted("s3.csv") + " " +
               quoted("s4.csv");
    }
    static std::vector<Json> objects(const std::string& text) {
        std::vector<Json> out;
        std::istringstream in(text);
        for (std::string line; std::getline(in, line);)
            out.push_back(Json::parse(line));
        return out;
    }
    Json check(const std::string& store) {
        const Finished done = run("record check --json --store " + quoted(store));
        EXPECT_EQ(done.status, Json::parse(done.out)["ok"] == true ? 0 : 1);
        return Json::parse(done.out);
    }
};

} // namespace

TEST_F(RecordCli, KeepsListsShowsAndGivesBack) {
    const Finished added = run("record add --json --golfer Ada --lesson One " + all_files() + " " +
                               quoted("none.csv"));
    EXPECT_EQ(added.status, 1) << "one file was not there";
    EXPECT_NE(added.err.find("none.csv"), std::string::npos);
    const auto kept = objects(added.out);
    ASSERT_EQ(kept.size(), 4U);
    EXPECT_TRUE(std::filesystem::exists(folder.path("data") / "kite-hinge" / "record.db"));
    EXPECT_EQ(kept[2]["file"], folder.path("s3.csv").string());
    EXPECT_EQ(kept[2]["new"], true);
    for (const Json& again : objects(run("record add --json " + all_files()).out))
        EXPECT_EQ(again["new"], false);
    const auto listed = objects(run("record list --json --golfer Ada").out);
    ASSERT_EQ(listed.size(), 4U);
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_EQ(listed[i]["id"], kept[i]["id"]);
        EXPECT_EQ(listed[i]["sha256"], kept[i]["sha256"]);
        EXPECT_EQ(listed[i]["golfer"], "Ada");
        EXPECT_EQ(listed[i]["lesson"], "One");
        for (const char* key : {"when", "first_fix"})
            EXPECT_TRUE(listed[i].contains(key)) << key;
    }
    EXPECT_EQ(objects(run("record list --json --find 's2 ada'").out).size(), 1U);
    const std::string id = kept[1]["id"];
    EXPECT_EQ(run("record show " + id).out, run("analyse --json " + quoted("s2.csv")).out);
    ASSERT_EQ(run("record get " + id + " " + quoted("again.csv")).status, 0);
    EXPECT_EQ(TemporaryFolder::read(folder.path("again.csv")),
              TemporaryFolder::read(folder.path("s2.csv")));
    EXPECT_EQ(run("record get ffff " + quoted("no.csv")).status, 1);
    EXPECT_FALSE(std::filesystem::exists(folder.path("no.csv")));

    ASSERT_EQ(run("record export --golfer Ada " + quoted("ada.zip")).status, 0);
    ASSERT_EQ(run("record import --store " + quoted("b.db") + " " + quoted("ada.zip")).status, 0);
    ASSERT_EQ(run("record import --store " + quoted("b.db") + " " + quoted("ada.zip")).status, 0);
    EXPECT_EQ(check("b.db")["swings"], 4);
    // It has been measured here: its file's name is all that the other record knew of its place.
    Json there = Json::parse(run("record show --store " + quoted("b.db") + " " + id).out);
    Json here = Json::parse(run("record show " + id).out);
    EXPECT_EQ(there.at("file"), "s2.csv");
    there.erase("file");
    here.erase("file");
    EXPECT_EQ(there, here);

    ASSERT_EQ(run("record backup " + quoted("copy.db")).status, 0);
    EXPECT_EQ(run("record backup " + quoted("copy.db")).status, 1) << "nothing is written over";
    ASSERT_EQ(run("record delete " + id).status, 0);
    EXPECT_EQ(objects(run("record list --json").out).size(), 3U);
    EXPECT_EQ(objects(run("record list --json --bin").out).size(), 1U);
    ASSERT_EQ(run("record restore " + id).status, 0);
    EXPECT_EQ(objects(run("record list --json").out).size(), 4U);
    ASSERT_EQ(run("record delete " + id).status, 0);
    ASSERT_EQ(run("record empty-bin").status, 0);
    EXPECT_EQ(run("record show " + id).status, 1);
    EXPECT_EQ(check("copy.db")["swings"], 4);
    EXPECT_EQ(check("data/kite-hinge/record.db")["swings"], 3);
}

// What was told of the files counts when the result is made again.
TEST_F(RecordCli, MeasuresAgainAsItWasTold) {
    const auto kept = objects(run("record add --json --store " + quoted("r.db") +
                                  " --club iron --cutoff club=22 " + quoted("s1.csv"))
                                  .out);
    ASSERT_EQ(kept.size(), 1U);
    // A result of an earlier measuring: the number in the file is what says so.
    ASSERT_EQ(std::system(("/usr/bin/python3 -c \"import sqlite3;c=sqlite3.connect('" +
                           folder.path("r.db").string() +
                           "');c.execute('UPDATE result SET version=0');c.commit()\"")
                              .c_str()),
              0);
    const Json shown = Json::parse(
        run("record show --store " + quoted("r.db") + " " + kept[0]["id"].get<std::string>()).out);
    Json plain =
        Json::parse(run("analyse --json --club iron --cutoff club=22 " + quoted("s1.csv")).out);
    plain["file"] = shown["file"];
    EXPECT_EQ(shown, plain);
    EXPECT_EQ(
        objects(run("record list --json --store " + quoted("r.db")).out)[0]["results_version"],
        kite::kResultsVersion);
}

TEST_F(RecordCli, LosesNothingThatItPromisedWhenKilled) {
    std::mt19937 random(11);
    std::map<std::string, std::string> promised;
    std::size_t ended_early = 0;
    for (int round = 0; round < 40; ++round) {
        const std::string out = folder.path("said").string();
        const pid_t child = fork();
        ASSERT_GE(child, 0);
        if (child == 0) {
            const int to = open(out.c_str(), O_CREAT | O_TRUNC | O_WRONLY, 0600);
            dup2(to, 1);
            const std::string store = folder.path("k.db").string();
            const std::string golfer = "G" + std::to_string(round % 7);
            execl(KITE_CLI, KITE_CLI, "record", "add", "--json", "--store", store.c_str(),
                  "--golfer", golfer.c_str(), folder.path("s1.csv").c_str(),
                  folder.path("s2.csv").c_str(), folder.path("s3.csv").c_str(),
                  folder.path("s4.csv").c_str(), static_cast<char*>(nullptr));
            _exit(127);
        }
        std::this_thread::sleep_for(std::chrono::milliseconds(random() % 90));
        kill(child, SIGKILL);
        int status = 0;
        waitpid(child, &status, 0);
        ended_early += WIFSIGNALED(status) ? 1 : 0;
        for (const Json& line : objects(TemporaryFolder::read(out)))
            promised[line["id"]] = line["sha256"];
    }
    EXPECT_GT(ended_early, 3U) << "else nothing was tried";
    std::map<std::string, std::string> has;
    for (const Json& line : objects(run("record list --json --store " + quoted("k.db")).out))
        has[line["id"]] = line["sha256"];
    for (const auto& [id, sha256] : promised)
        EXPECT_EQ(has[id], sha256);
    EXPECT_EQ(check("k.db")["problems"], Json::array());
}

TEST_F(RecordCli, SaysWhatWasNotKeptWhenThereIsNoRoom) {
    // A file may be no longer than 256 kB: one swing has room, four have not.
    const Finished added =
        run("record add --json --store " + quoted("f.db") + " " + all_files(), "ulimit -f 512;");
    EXPECT_EQ(added.status, 1);
    EXPECT_NE(added.err.find("was not"), std::string::npos) << added.err;
    const auto promised = objects(added.out);
    EXPECT_LT(promised.size(), 4U);
    EXPECT_EQ(objects(run("record list --json --store " + quoted("f.db")).out).size(),
              promised.size());
    EXPECT_EQ(check("f.db")["problems"], Json::array());
    EXPECT_EQ(
        objects(run("record add --json --store " + quoted("f.db") + " " + all_files()).out).size(),
        4U)
        << "with room again all is well";
}

TEST_F(RecordCli, SaysThatThereIsNothingYet) {
    const Finished listed = run("record list");
    EXPECT_EQ(listed.status, 0);
    EXPECT_EQ(listed.out, "");
    EXPECT_NE(listed.err.find("no record yet"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(folder.path("data")));
    EXPECT_EQ(run("record").status, 2);
    EXPECT_EQ(run("record add").status, 2);
    folder.write("notes.txt", "no database");
    EXPECT_EQ(run("record list --store " + quoted("notes.txt")).status, 1);
    EXPECT_EQ(run("record add --store " + quoted("notes.txt") + " " + quoted("s1.csv")).status, 1);
    EXPECT_EQ(TemporaryFolder::read(folder.path("notes.txt")), "no database");
}

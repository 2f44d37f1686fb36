// The real program, started as a user starts it.

#include "support/temporary_folder.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <sys/wait.h>

using kite::test::TemporaryFolder;
using Json = nlohmann::json;

namespace {

struct Finished {
    int status = -1;
    std::string out;
    std::string err;
};

std::size_t lines(const std::string& text) {
    return static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
}

class Cli : public testing::Test {
protected:
    Finished run(const std::string& arguments) {
        const std::string command = std::string("'" KITE_CLI "' ") + arguments + " >'" +
                                    folder.path("out").string() + "' 2>'" +
                                    folder.path("err").string() + "' </dev/null";
        const int status = std::system(command.c_str());
        return {WIFEXITED(status) ? WEXITSTATUS(status) : -1,
                TemporaryFolder::read(folder.path("out")),
                TemporaryFolder::read(folder.path("err"))};
    }
    std::string quoted(const std::string& name) const {
        return "'" + folder.path(name).string() + "'";
    }
    TemporaryFolder folder;
};

} // namespace

TEST_F(Cli, SimulatesAndAnalysesPosesAndMarkers) {
    EXPECT_EQ(run("simulate --fault upper-body-first=1.5 --handed left --club driver --rate 200 "
                  "--noise-mm 0.3 --seed 4 " +
                  quoted("a.csv"))
                  .status,
              0);
    EXPECT_EQ(run("simulate --fault upper-body-first=1.5 --handed left --club driver --rate 200 "
                  "--noise-mm 0.3 --seed 4 " +
                  quoted("a.c3d"))
                  .status,
              0);
    const Finished result = run("analyse --json " + quoted("a.csv") + " " + quoted("a.c3d"));
    EXPECT_EQ(result.status, 0) << result.err;
    ASSERT_EQ(lines(result.out), 2u) << "one object a file, one a line";
    for (const std::string& line : {result.out.substr(0, result.out.find('\n')),
                                    result.out.substr(result.out.find('\n') + 1)}) {
        const Json json = Json::parse(line);
        EXPECT_EQ(json["handed"], "left");
        EXPECT_EQ(json["club"], "driver");
        EXPECT_EQ(json["rate_hz"], 200.0);
        EXPECT_EQ(json["first_fix"]["id"], "upper-body-first");
    }
}

TEST_F(Cli, WritesTheSameSwingForTheSameSeed) {
    run("simulate --noise-mm 1 --seed 9 " + quoted("a.csv"));
    run("simulate --noise-mm 1 --seed 9 " + quoted("b.csv"));
    run("simulate --noise-mm 1 --seed 10 " + quoted("c.csv"));
    EXPECT_EQ(TemporaryFolder::read(folder.path("a.csv")),
              TemporaryFolder::read(folder.path("b.csv")));
    EXPECT_NE(TemporaryFolder::read(folder.path("a.csv")),
              TemporaryFolder::read(folder.path("c.csv")));
}

TEST_F(Cli, GoesOnAfterABadFileAndExitsWithOne) {
    run("simulate " + quoted("good.csv"));
    folder.write("bad.csv", "time_s,pelvis_qw,pelvis_qx,pelvis_qy,pelvis_qz\n0,1,0,0,tree\n");
    const Finished result = run("analyse --json " + quoted("bad.csv") + " " + quoted("none.csv") +
                                " " + quoted("good.csv"));
    EXPECT_EQ(result.status, 1);
    EXPECT_EQ(lines(result.out), 1u) << "the good one was done";
    ASSERT_EQ(lines(result.err), 2u) << "one line a problem";
    EXPECT_NE(result.err.find("bad.csv: line 2, column pelvis_qz: \"tree\" is not a number."),
              std::string::npos);
    EXPECT_NE(result.err.find("none.csv: There is no such file."), std::string::npos);
}

TEST_F(Cli, SaysInOneSentenceWhatARealCaptureLacks) {
    const Finished result = run("analyse --table /usr/share/doc/dart/data/c3d/squat.c3d");
    EXPECT_EQ(result.status, 1);
    EXPECT_TRUE(result.out.empty());
    EXPECT_EQ(lines(result.err), 1u);
    EXPECT_NE(result.err.find("53 points, 2,539 frames at 120 Hz"), std::string::npos);
}

TEST_F(Cli, OptionsChangeTheAnalysis) {
    run("simulate " + quoted("a.csv"));
    const auto json = [&](const std::string& options) {
        return Json::parse(run("analyse --json " + options + " " + quoted("a.csv")).out);
    };
    const Json plain = json("");
    EXPECT_EQ(json("--convention plane")["convention"], "plane");
    EXPECT_EQ(json("--separation joint")["separation"]["method"], "joint");
    EXPECT_EQ(json("--club wedge")["club"], "wedge");
    EXPECT_EQ(
        json("--cutoff pelvis=7 --cutoff club=30")["sequence"]["segments"]["pelvis"]["cutoff_hz"],
        7.0);
    EXPECT_NE(json("--top arm")["events"]["top"]["t"], plain["events"]["top"]["t"]);
}

TEST_F(Cli, WrongUsageExitsWithTwo) {
    run("simulate " + quoted("a.csv"));
    for (const std::string& arguments :
         {std::string(""), std::string("analyse"), std::string("dance"),
          "analyse --json --table " + quoted("a.csv"), "analyse --handed both " + quoted("a.csv"),
          "analyse --cutoff pelvis " + quoted("a.csv"),
          "analyse --cutoff nose=3 " + quoted("a.csv"),
          "analyse --cutoff club=-1 " + quoted("a.csv"), "analyse --up w " + quoted("a.csv"),
          "simulate " + quoted("a.txt"), "simulate --fault nonsense " + quoted("b.csv"),
          "simulate --fault out-of-order=9 " + quoted("b.csv"),
          "simulate --rate 1 " + quoted("b.csv")}) {
        const Finished result = run(arguments);
        EXPECT_EQ(result.status, 2) << arguments;
        EXPECT_FALSE(result.err.empty()) << arguments;
        EXPECT_TRUE(result.out.empty()) << arguments;
    }
}

TEST_F(Cli, HelpsAndSaysItsVersion) {
    const Finished help = run("--help");
    EXPECT_EQ(help.status, 0);
    EXPECT_NE(help.out.find("analyse"), std::string::npos);
    EXPECT_NE(run("analyse --help").out.find("--convention"), std::string::npos);
    EXPECT_NE(run("--version").out.find("kite-hinge-cli"), std::string::npos);
}

TEST_F(Cli, AFileThatCannotBeWrittenIsSaid) {
    const Finished result = run("simulate /no/such/folder/a.csv");
    EXPECT_EQ(result.status, 1);
    EXPECT_NE(result.err.find("/no/such/folder/a.csv: The file cannot be written."),
              std::string::npos);
}

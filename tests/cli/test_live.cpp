// kite-hinge-cli live as it is used: over UDP on loopback, with a sender that shares no code with
// the program (reference/bay_sender.py) and with the stand-in.

#include "cli/cli_fixture.h"

#include <set>
#include <sstream>
#include <unistd.h>
#include <vector>

namespace kite::test {
namespace {

class LiveCommand : public Cli {
protected:
    /// A port of this test's own: a sender of the one before may still be at it.
    std::string port() const {
        const auto* test = testing::UnitTest::GetInstance()->current_test_info();
        return std::to_string(20000 + (::getpid() * 31 + test->line()) % 20000);
    }
    /// Something that begins when the program listens.
    static std::string soon(const std::string& command) {
        return "(sleep 0.4; " + command + ") & ";
    }
    static std::vector<Json> objects(const std::string& text) {
        std::vector<Json> out;
        std::istringstream in(text);
        for (std::string line; std::getline(in, line);)
            out.push_back(Json::parse(line));
        return out;
    }
    static std::set<std::string> keys(const Json& object) {
        std::set<std::string> out;
        for (const auto& [key, value] : object.items())
            out.insert(key);
        return out;
    }
};

TEST_F(LiveCommand, HearsASenderThatWasWrittenApart) {
    const std::string truth = folder.path("truth").string();
    const Finished heard =
        run("live --port " + port() + " --swings 2 --seconds 40 --record " + quoted("s.kitebay"),
            soon(KITE_PYTHON " " KITE_SENDER " " + port() + " 2 11 >'" + truth + "'"));
    ASSERT_EQ(heard.status, 0) << heard.err;
    EXPECT_NE(heard.err.find("were not understood"), std::string::npos); // its random bytes
    const std::vector<Json> swings = objects(heard.out);
    const std::vector<Json> true_swings = objects(TemporaryFolder::read(truth));
    ASSERT_EQ(swings.size(), 2u);
    for (std::size_t i = 0; i < 2; ++i) {
        const Json& swing = swings[i];
        EXPECT_TRUE(swing.at("file").is_null());
        const Json& live = swing.at("live");
        EXPECT_EQ(keys(live), (std::set<std::string>{"number", "practice", "latency_ms",
                                                     "impact_clock_s", "devices"}));
        EXPECT_EQ(live.at("number"), i + 1);
        EXPECT_EQ(live.at("practice"), false);
        EXPECT_GT(live.at("latency_ms").get<double>(), 0.0);
        EXPECT_TRUE(swing.at("launch").is_null()); // it sends none
        const Json& pelvis = live.at("devices").at("pelvis-x");
        EXPECT_EQ(pelvis.at("role"), "pelvis");
        EXPECT_NEAR(pelvis.at("rate_hz").get<double>(), 400.0, 1.0);
        EXPECT_LT(pelvis.at("clock_u_ms").get<double>(), 2.0);
        EXPECT_LT(pelvis.at("lost_pct").get<double>(), 3.0);
        EXPECT_NEAR(pelvis.at("battery").get<double>(), 0.9, 1e-6);
        // Against what the sender put there; clocks that are off by hours and drift.
        EXPECT_EQ(swing.at("sequence").at("order"),
                  Json::parse(R"(["pelvis", "torso", "lead_arm", "club"])"));
        for (const char* part : {"pelvis", "torso", "lead_arm", "club"})
            EXPECT_NEAR(swing.at("sequence").at("segments").at(part).at("before_impact_ms"),
                        true_swings[i].at("before_ms").at(part).get<double>(), 4.0)
                << part;
        EXPECT_GT(swing.at("events").at("top").at("t").get<double>(), 0.0);
    }
    EXPECT_NEAR(swings[1].at("live").at("impact_clock_s").get<double>() -
                    swings[0].at("live").at("impact_clock_s").get<double>(),
                5.0, 0.004);
    // Played again it is the same, to the last letter.
    const Finished again = run("live --swings 2 --replay " + quoted("s.kitebay"));
    ASSERT_EQ(again.status, 0) << again.err;
    EXPECT_EQ(again.out, heard.out);
}

TEST_F(LiveCommand, TheStandInHasPracticeSwingsAndALaunchMonitor) {
    const Finished heard =
        run("live --port " + port() + " --handed left --club driver --swings 1 --seconds 40",
            soon("'" KITE_BAY "' --port " + port() +
                 " --swings 1 --practice 1 --no-between --handed left --club driver --quiet"));
    ASSERT_EQ(heard.status, 0) << heard.err;
    const std::vector<Json> swings = objects(heard.out);
    ASSERT_EQ(swings.size(), 2u); // the practice swing is printed and not counted
    EXPECT_EQ(swings[0].at("live").at("practice"), true);
    EXPECT_TRUE(swings[0].at("launch").is_null());
    EXPECT_EQ(swings[1].at("live").at("practice"), false);
    EXPECT_EQ(swings[1].at("live").at("number"), 2);
    EXPECT_GT(swings[1].at("launch").at("carry_m").get<double>(), 50.0);
    EXPECT_EQ(swings[1].at("handed"), "left");
    EXPECT_EQ(swings[1].at("club"), "driver");
    EXPECT_EQ(swings[1].at("live").at("devices").size(), 6u);
    EXPECT_GT(swings[1].at("pressure").at("lead_min_pct").get<double>(), 5.0);
}

TEST_F(LiveCommand, EndsInGoodOrder) {
    // After the time that was said, and on a signal.
    const Finished quiet = run("live --port " + port() + " --seconds 0.3");
    EXPECT_EQ(quiet.status, 0);
    EXPECT_EQ(quiet.out, "");
    EXPECT_NE(quiet.err.find("Nothing was heard"), std::string::npos);
    for (const char* signal : {"INT", "TERM"}) {
        const Finished ended =
            run("live --port " + port(), "(sleep 0.5; pkill -" + std::string(signal) +
                                             " -f 'live --port " + port() + "$') & ");
        EXPECT_EQ(ended.status, 0) << signal << ended.err;
    }
    const Finished open = run("live --address 0.0.0.0 --port " + port() + " --seconds 0.1");
    EXPECT_NE(open.err.find("anybody on this network"), std::string::npos);
}

TEST_F(LiveCommand, SaysWhatIsWrong) {
    EXPECT_EQ(run("live --swings 0").status, 2);
    EXPECT_EQ(run("live --record " + quoted("a") + " --replay " + quoted("b")).status, 2);
    EXPECT_EQ(run("live --port 70000").status, 2);
    EXPECT_EQ(run("live --address nowhere --seconds 1").status, 1);
    const Finished none = run("live --replay " + quoted("none.kitebay"));
    EXPECT_EQ(none.status, 1);
    EXPECT_NE(none.err.find("none.kitebay"), std::string::npos);
    // A recording is not written over.
    EXPECT_EQ(run("live --seconds 0.1 --port " + port() + " --record " + quoted("r")).status, 0);
    EXPECT_EQ(run("live --seconds 0.1 --port " + port() + " --record " + quoted("r")).status, 1);
}

} // namespace
} // namespace kite::test

// The real program, started as a user starts it.

#include "cli/cli_fixture.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <sstream>
#include <sys/wait.h>

using namespace kite::test;

TEST_F(Cli, TakesWhatWasMeasuredBesideTheMotion) {
    run("simulate --seed 1 " + quoted("a.csv"));
    run("simulate --seed 2 " + quoted("b.csv"));
    folder.write("launch.csv", "club_speed_mph,carry_m\n86.2,\n84,151.5\n");
    folder.write("force.csv", "time_s,lead_pct\n0,50\n0.02,50.5\n0.04,51\n");
    const std::string files = quoted("a.csv") + " " + quoted("b.csv");
    const Finished two = run("analyse --json --launch " + quoted("launch.csv") + " " + files);
    ASSERT_EQ(two.status, 0) << two.err;
    const Json second = Json::parse(two.out.substr(two.out.find('\n')));
    EXPECT_NEAR(second["launch"]["club_speed_m_s"].get<double>(), 84 * 0.44704, 1e-9);
    EXPECT_NEAR(second["launch"]["carry_m"].get<double>(), 151.5, 1e-9);
    EXPECT_TRUE(Json::parse(two.out.substr(0, two.out.find('\n')))["launch"]["carry_m"].is_null());
    // Two shots for one file, or one force file for two: wrong usage, nothing is guessed.
    EXPECT_EQ(run("analyse --launch " + quoted("launch.csv") + " " + quoted("a.csv")).status, 2);
    EXPECT_EQ(run("analyse --force " + quoted("force.csv") + " " + files).status, 2);
    EXPECT_EQ(run("analyse --force " + quoted("force.csv") + " " + quoted("a.csv")).status, 0);
    const Finished bad = run("analyse --force " + quoted("none.csv") + " " + quoted("a.csv"));
    EXPECT_EQ(bad.status, 1);
    EXPECT_NE(bad.err.find("none.csv"), std::string::npos);
}

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

// Marks in film go wherever a swing file goes.
TEST_F(Cli, MeasuresMarksInFilm) {
    const std::string marks = quoted("a.film.json");
    ASSERT_EQ(
        run("simulate --view face-on --view above --mark-error-px 1 --seed 3 " + marks).status, 0);
    const Finished result = run("analyse --json " + marks);
    ASSERT_EQ(result.status, 0) << result.err;
    const Json json = Json::parse(result.out);
    EXPECT_EQ(json["sequence"]["order"].size(), 4U);
    EXPECT_GT(json["sequence"]["segments"]["pelvis"]["peak_t_u"].get<double>(), 0.0);
    const Finished converted = run("convert " + marks + " " + quoted("a.csv"));
    EXPECT_EQ(converted.status, 0);
    EXPECT_NE(converted.err.find("how unsure the cameras"), std::string::npos) << converted.err;
    EXPECT_NE(TemporaryFolder::read(folder.path("a.csv")).find("pelvis_qw"), std::string::npos);
    const Finished kept = run("record add --store " + quoted("r.db") + " --json " + marks);
    EXPECT_EQ(kept.status, 0) << kept.err;
    EXPECT_EQ(run("simulate --view behind " + marks).status, 2);
    EXPECT_EQ(run("simulate " + quoted("a.txt")).status, 2);
}

// Film and paper are parts that are loaded when they are needed. Without them, as where a program
// is copied alone, everything else works.
TEST_F(Cli, APartThatIsMissingIsSaidAndTakesNothingElseAway) {
    const std::string alone = folder.path("alone").string();
    std::filesystem::create_directory(alone);
    std::filesystem::copy(KITE_CLI, alone + "/program");
    const auto run_alone = [&](const std::string& arguments) {
        return run_program(alone + "/program", arguments);
    };
    const std::string marks = quoted("a.film.json");
    const std::string with_film =
        "simulate --seed 3 --view face-on --film --film-height 160 " + marks;
    ASSERT_EQ(run(with_film).status, 0);
    ASSERT_EQ(run("film " + quoted("a-face-on.mp4")).status, 0);
    for (const std::string& needs_film :
         {with_film + " --force", "film " + quoted("a-face-on.mp4")}) {
        const Finished without = run_alone(needs_film);
        EXPECT_EQ(without.status, 1);
        EXPECT_NE(without.err.find("kite-hinge-film.so is not where it was installed"),
                  std::string::npos)
            << without.err;
    }
    ASSERT_EQ(run_alone("simulate --seed 3 " + quoted("a.csv")).status, 0);
    EXPECT_EQ(run_alone("analyse " + quoted("a.csv")).status, 0);
    EXPECT_EQ(run_alone("report " + quoted("a.csv") + " --out " + quoted("a.html")).status, 0);
    const Finished pdf = run_alone("report " + quoted("a.csv") + " --out " + quoted("a.pdf"));
    EXPECT_EQ(pdf.status, 1);
    EXPECT_NE(pdf.err.find("ask for HTML"), std::string::npos) << pdf.err;
    EXPECT_FALSE(std::filesystem::exists(folder.path("a.pdf")));
    // A part that was cut short.
    std::filesystem::create_directory(folder.path("parts"));
    folder.write("parts/kite-hinge-film.so", "ELF");
    const Finished cut = run_alone("film " + quoted("a-face-on.mp4"));
    EXPECT_EQ(cut.status, 1);
    EXPECT_NE(cut.err.find("cannot be loaded"), std::string::npos) << cut.err;
    EXPECT_EQ(cut.err.find("is not where"), std::string::npos) << cut.err;
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
    const Finished result = run("analyse --table " KITE_SQUAT_C3D);
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
    EXPECT_NE(result.err.find("/no/such/folder/a.csv: The file cannot be written: "),
              std::string::npos);
}

TEST_F(Cli, PrintsManyFilesInTheOrderGivenAndGoesOnAfterABadOne) {
    std::string files;
    for (int i = 0; i < 12; ++i) {
        const std::string name = "s" + std::to_string(i) + ".csv";
        if (i == 5)
            folder.write(name, "no swing");
        else
            ASSERT_EQ(run("simulate --seed " + std::to_string(i) + " " + quoted(name)).status, 0);
        files += " " + quoted(name);
    }
    const Finished result = run("analyse --json" + files);
    EXPECT_EQ(result.status, 1);
    EXPECT_EQ(lines(result.out), 11u);
    EXPECT_EQ(lines(result.err), 1u) << result.err;
    std::istringstream rows(result.out);
    std::string row;
    for (int i = 0; std::getline(rows, row); ++i)
        EXPECT_EQ(Json::parse(row)["file"],
                  folder.path("s" + std::to_string(i < 5 ? i : i + 1) + ".csv").string());

    const Finished csv = run("analyse --csv" + files);
    EXPECT_EQ(csv.status, 1);
    EXPECT_EQ(lines(csv.out), 12u) << "a header and a row a swing";
    const auto commas = [](const std::string& text) {
        return std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(text.find('\n')),
                          ',');
    };
    EXPECT_EQ(commas(csv.out), commas(csv.out.substr(csv.out.find('\n') + 1)));
}

// The same swing through every writer gives the same sequence; labels and axes of markers stay.
TEST_F(Cli, ConvertsBetweenFormats) {
    ASSERT_EQ(run("simulate --handed left " + quoted("a.c3d")).status, 0);
    for (const auto& [from, to] :
         {std::pair("a.c3d", "b.trc"), std::pair("b.trc", "c.c3d"), std::pair("a.c3d", "d.csv")})
        ASSERT_EQ(
            run(std::string("convert --handed left ") + quoted(from) + " " + quoted(to)).status, 0)
            << to;
    const auto peak = [&](const char* name) {
        const Finished result = run(std::string("analyse --handed left --json ") + quoted(name));
        EXPECT_EQ(result.status, 0) << result.err;
        return Json::parse(result.out)["sequence"]["segments"]["torso"]["peak_t"].get<double>();
    };
    for (const char* name : {"b.trc", "c.c3d", "d.csv"})
        EXPECT_NEAR(peak(name), peak("a.c3d"), 0.001) << name;
    EXPECT_EQ(
        run("convert --series --handed left " + quoted("a.c3d") + " " + quoted("e.csv")).status, 0);
    EXPECT_NE(TemporaryFolder::read(folder.path("e.csv")).find("pelvis_rate_deg_s"),
              std::string::npos);
    EXPECT_EQ(run("convert " + quoted("a.c3d") + " " + quoted("a.xyz")).status, 2);
    EXPECT_EQ(run("convert " + quoted("d.csv") + " " + quoted("f.trc")).status, 1);
}

TEST_F(Cli, ComparesAndDiagnosesSets) {
    std::string before;
    std::string after;
    for (int i = 0; i < 5; ++i) {
        const std::string seed = std::to_string(i);
        ASSERT_EQ(run("simulate --noise-mm 0.5 --fault upper-body-first --seed " + seed + " " +
                      quoted("b" + seed + ".csv"))
                      .status,
                  0);
        ASSERT_EQ(run("simulate --noise-mm 0.5 --seed " + seed + " " + quoted("a" + seed + ".csv"))
                      .status,
                  0);
        before += " " + quoted("b" + seed + ".csv");
        after += " " + quoted("a" + seed + ".csv");
    }
    const Finished json = run("compare --json --before" + before + " --after" + after);
    ASSERT_EQ(json.status, 0) << json.err;
    bool found = false;
    const Json compared = Json::parse(json.out);
    EXPECT_EQ(compared["sets"]["before"]["distinct"], 5);
    EXPECT_EQ(compared["sessions"], "two") << "nobody said that it was one";
    EXPECT_EQ(compared["question"], "transition.torso_lead_ms")
        << "what decides the first fix of the earlier swings";
    const Json& measures = compared["measures"];
    for (const Json& measure : measures)
        if (measure["key"] == "transition.torso_lead_ms") {
            found = true;
            EXPECT_EQ(measure["verdict"], "changed");
            EXPECT_EQ(measure["size"], "worthwhile");
            EXPECT_EQ(measure["question"], true);
            EXPECT_LT(measure["change"].get<double>(), -20.0) << "the torso starts later now";
            EXPECT_EQ(measure["before"]["n"], 5);
        }
    EXPECT_TRUE(found);
    EXPECT_NE(run("compare --before" + before + " --after" + after).out.find("Torso lead"),
              std::string::npos);
    EXPECT_EQ(run("compare --before" + before).status, 2);
    const Finished unknown = run("compare --question nope --before" + before + " --after" + after);
    EXPECT_EQ(unknown.status, 2);
    EXPECT_NE(unknown.err.find("no measure \"nope\""), std::string::npos) << unknown.err;
    // Three copies of one capture against three of another are one against one.
    const auto thrice = [&](const std::string& name) {
        return " " + quoted(name) + " " + quoted(name) + " " + quoted(name);
    };
    const Json copies = Json::parse(
        run("compare --json --before" + thrice("b1.csv") + " --after" + thrice("a1.csv")).out);
    EXPECT_EQ(copies["sets"]["after"]["n"], 3);
    EXPECT_EQ(copies["sets"]["after"]["distinct"], 1);
    for (const Json& measure : copies["measures"])
        EXPECT_NE(measure["verdict"], "changed") << measure["key"];
    EXPECT_EQ(Json::parse(run("compare --json --sessions one --question tempo.ratio --before" +
                              before + " --after" + after)
                              .out)["sessions"],
              "one");

    const Finished words = run("diagnose" + before);
    EXPECT_EQ(words.status, 0);
    EXPECT_NE(words.out.find("The upper body starts down first"), std::string::npos) << words.out;
    EXPECT_NE(words.out.find("Seen in 5 of 5 swings (57 to 100 % of such swings, 95 %)."),
              std::string::npos)
        << words.out;
    EXPECT_NE(run("diagnose" + after).out.find("Nothing to mend here"), std::string::npos);
}

TEST_F(Cli, SaysWhyAndWhatWouldChangeIt) {
    run("simulate --fault early-extension --seed 3 " + quoted("a.c3d"));
    const Finished why = run("diagnose --why " + quoted("a.c3d"));
    ASSERT_EQ(why.status, 0) << why.err;
    for (const char* wanted :
         {"early-extension, downswing): evidence", "growth of pelvis depth from top to impact",
          "speaks below \u22122.5 cm", "This would clear it:", "more than now"})
        EXPECT_NE(why.out.find(wanted), std::string::npos) << wanted << why.out;
    EXPECT_EQ(run("diagnose " + quoted("a.c3d")).out.find("This would clear it:"),
              std::string::npos);
}

TEST_F(Cli, MakesAPlanGoesOnWithItAndCountsSwings) {
    run("simulate --fault early-extension --seed 3 " + quoted("a.c3d"));
    const Finished made =
        run("plan " + quoted("a.c3d") + " --golfer Jonas --from 2026-11-27 --lesson 2026-12-04" +
            " --days mon,fri --minutes 15 --limit lead-knee --out " + quoted("plan.json") +
            " --calendar " + quoted("plan.ics"));
    ASSERT_EQ(made.status, 0) << made.err;
    EXPECT_NE(made.out.find("The pelvis moves towards the ball"), std::string::npos);
    EXPECT_NE(made.out.find("doctor"), std::string::npos);
    EXPECT_NE(made.out.find("2026-12-04  Lesson."), std::string::npos) << made.out;
    EXPECT_NE(TemporaryFolder::read(folder.path("plan.ics")).find("DTSTART;VALUE=DATE:20261130"),
              std::string::npos);
    // Ten good swings pass the first rung; two are too few.
    std::string good;
    for (int seed = 1; seed <= 10; ++seed) {
        const std::string name = "g" + std::to_string(seed) + ".c3d";
        run("simulate --seed " + std::to_string(seed) + " " + quoted(name));
        good += " " + quoted(name);
    }
    const std::string open = "plan --open " + quoted("plan.json") + " --on 2026-11-27 ";
    const Finished full = run(open + quoted("g1.c3d"));
    EXPECT_NE(full.out.find("Full swings do not count on rung 1"), std::string::npos) << full.out;
    EXPECT_TRUE(Json::parse(TemporaryFolder::read(folder.path("plan.json")))["counts"].empty());
    const std::string slow = "--rehearsal ";
    EXPECT_NE(
        run(open + slow + quoted("g1.c3d") + " " + quoted("g2.c3d")).out.find("too few swings"),
        std::string::npos);
    const Finished counted = run(open + slow + "--done 2026-11-27" + good);
    EXPECT_EQ(counted.status, 0) << counted.err;
    EXPECT_NE(counted.out.find("10 of 10 passed on rung 1: the rung is passed."), std::string::npos)
        << counted.out;
    EXPECT_NE(counted.out.find("2026-11-27 (done)"), std::string::npos);
    const Json kept = Json::parse(TemporaryFolder::read(folder.path("plan.json")));
    EXPECT_EQ(kept["counts"].size(), 2u);
    EXPECT_EQ(kept["counts"][1]["passed"], 10);
    // What makes no sense is said, and nothing is written.
    EXPECT_EQ(run("plan " + quoted("a.c3d") + " --from yesterday").status, 2);
    EXPECT_NE(run("plan " + quoted("g1.c3d") + " --out " + quoted("none.json"))
                  .err.find("Nothing to mend"),
              std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(folder.path("none.json")));
    EXPECT_EQ(run("plan").status, 2);
    EXPECT_EQ(run("plan " + quoted("a.c3d") + " --minutes 1").status, 2);
}

// Man page and completion must not fall behind the program.
TEST_F(Cli, ManPageAndCompletionKnowEveryOption) {
    const std::string man = TemporaryFolder::read(KITE_CLI_SOURCE "/kite-hinge-cli.1");
    const std::string completion = TemporaryFolder::read(KITE_CLI_SOURCE "/kite-hinge-cli.bash");
    for (const char* command : {"analyse", "convert", "compare", "diagnose", "plan", "record",
                                "record add", "record list", "record export", "simulate"}) {
        const std::string last = std::string(command).substr(std::string(command).rfind(' ') + 1);
        EXPECT_NE(man.find(last), std::string::npos) << command;
        const std::string help = run(std::string(command) + " --help").out;
        for (std::size_t at = help.find("--"); at != std::string::npos;
             at = help.find("--", at + 2)) {
            const std::string option =
                help.substr(at, help.find_first_not_of("abcdefghijklmnopqrstuvwxyz-", at) - at);
            EXPECT_NE(completion.find(option), std::string::npos) << option;
            std::string in_man;
            for (char c : option)
                in_man += c == '-' ? std::string("\\-") : std::string(1, c);
            if (option == "--help")
                continue;
            EXPECT_NE(man.find(in_man), std::string::npos) << in_man;
        }
    }
}

// What the import assistant keeps is used here too: docs/formats.md gives the file.
TEST_F(Cli, ReadsAStrangeTableByTheUsersMapping) {
    run("simulate --seed 3 --rate 240 " + quoted("a.csv"));
    run("convert --series " + quoted("a.csv") + " " + quoted("series.csv"));
    std::istringstream lines_in(TemporaryFolder::read(folder.path("series.csv")));
    std::string line;
    std::getline(lines_in, line);
    std::string strange = "Clock;Hip;Chest;Arm;Shaft\n";
    while (std::getline(lines_in, line)) {
        std::istringstream fields(line);
        std::string field;
        for (int i = 0; i < 5 && std::getline(fields, field, ','); ++i)
            strange += (i > 0 ? ";" : "") + field;
        strange += "\n";
    }
    folder.write("strange.csv", strange);
    EXPECT_EQ(run("analyse " + quoted("strange.csv")).status, 1);
    std::filesystem::create_directories(folder.path("config/kite-hinge"));
    folder.write("config/kite-hinge/mappings.json", R"([{"name": "rig", "columns": [
        {"theirs": "clock", "ours": "time_s"}, {"theirs": "hip", "ours": "pelvis_rate_deg_s"},
        {"theirs": "chest", "ours": "torso_rate_deg_s"},
        {"theirs": "arm", "ours": "lead_arm_rate_deg_s"},
        {"theirs": "shaft", "ours": "club_rate_deg_s"}]}])");
    const Finished read = run("analyse --json " + quoted("strange.csv"));
    ASSERT_EQ(read.status, 0) << read.err;
    const Json mapped = Json::parse(read.out);
    const Json poses = Json::parse(run("analyse --json " + quoted("a.csv")).out);
    for (const char* part : {"pelvis", "torso"})
        EXPECT_NEAR(mapped["sequence"]["segments"][part]["peak_t"].get<double>(),
                    poses["sequence"]["segments"][part]["peak_t"].get<double>(), 0.004)
            << part;
    EXPECT_TRUE(mapped["separation"]["at_top_deg"].is_null()) << "rates give no angles";
    // A broken file is said, and what it has right is used.
    folder.write("config/kite-hinge/mappings.json", "[{\"columns\": 5}]");
    const Finished broken = run("analyse " + quoted("a.csv"));
    EXPECT_EQ(broken.status, 0);
    EXPECT_NE(broken.err.find("mappings.json"), std::string::npos) << broken.err;
}

// The made-up capture lies along its line; told to lie 25° off it, every turn shifts by that, and
// the motion's own witnesses object.
TEST_F(Cli, TheTargetLineIsToldInDegrees) {
    ASSERT_EQ(run("simulate --rate 240 " + quoted("a.c3d")).status, 0);
    const auto turn = [&](const std::string& options, std::string& warnings) {
        const Finished result = run("analyse --json " + options + " " + quoted("a.c3d"));
        EXPECT_EQ(result.status, 0) << result.err;
        const Json json = Json::parse(result.out);
        warnings = json["warnings"].dump();
        return json["positions"]["address"]["pelvis_turn_deg"].get<double>();
    };
    std::string plain;
    std::string told;
    EXPECT_NEAR(turn("", plain), 0.0, 0.5);
    EXPECT_NEAR(turn("--target-deg 25", told), -25.0, 0.5);
    EXPECT_EQ(plain.find("target line"), std::string::npos) << plain;
    EXPECT_NE(told.find("25"), std::string::npos) << told;
    EXPECT_EQ(run("analyse --target-deg soon " + quoted("a.c3d")).status, 2);
}

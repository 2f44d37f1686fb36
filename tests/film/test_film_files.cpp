// Film files against what FFmpeg's own programs say of the same files (an independent road through
// its libraries), a real phone's MP4 among them, and damaged in many ways.

#include "core/film/strike.h"
#include "film/filmed_swing.h"
#include "film/sound.h"

#include <cstdio>
#include <cstring>
#include <random>
#include <sstream>

using namespace kite;
using namespace kite::film;
using kite::test::FilmedSwing;
using kite::test::TemporaryFolder;

namespace {

std::string output_of(const std::string& command) {
    std::string out;
    FILE* pipe = popen(command.c_str(), "r");
    char piece[65536];
    for (std::size_t got = 0; (got = fread(piece, 1, sizeof piece, pipe)) > 0;)
        out.append(piece, got);
    pclose(pipe);
    return out;
}

std::string quoted(const std::filesystem::path& path) {
    return "'" + path.string() + "'";
}

/// Times of all pictures from the first one, as ffprobe lists them.
std::vector<double> probed_times(const std::filesystem::path& path) {
    std::istringstream lines(output_of("ffprobe -v error -select_streams v -show_entries "
                                       "frame=best_effort_timestamp_time -of csv=p=0 " +
                                       quoted(path)));
    std::vector<double> out;
    for (std::string line; std::getline(lines, line);)
        if (!line.empty() && line[0] >= '0' && line[0] <= '9')
            out.push_back(std::stod(line));
    for (std::size_t i = out.size(); i-- > 0;)
        out[i] -= out[0];
    return out;
}

/// A picture as the ffmpeg program shows it, turned as the file asks.
std::string shown_by_ffmpeg(const std::filesystem::path& path, std::size_t number) {
    return output_of("ffmpeg -v error -i " + quoted(path) + " -vf \"select=eq(n\\," +
                     std::to_string(number) +
                     ")\" -vsync 0 -frames:v 1 -f rawvideo -pix_fmt bgra -");
}

double mean_difference(const Picture& picture, const std::string& bytes) {
    if (bytes.size() != picture.bgra.size())
        return 255.0;
    double sum = 0.0;
    for (std::size_t i = 0; i < bytes.size(); ++i)
        sum += std::abs(static_cast<int>(static_cast<unsigned char>(bytes[i])) - picture.bgra[i]);
    return sum / static_cast<double>(bytes.size());
}

std::shared_ptr<Film> opened(const std::filesystem::path& path) {
    const auto film = Film::open(path);
    EXPECT_TRUE(film.ok()) << (film.ok() ? "" : text_of(film.findings.front()));
    return film.value;
}

const std::filesystem::path kPhone =
    std::filesystem::path(KITE_FILM_SAMPLES) / "movie1" / "VID_20191220_170832.mp4";
std::filesystem::path other(const char* name) {
    return std::filesystem::path(KITE_FILM_SAMPLES) / "movie2" / name;
}

} // namespace

// Of the files of a Debian package of samples: a phone's MP4 with a variable rate, others that were
// stored as AVI (whose container tells no times), MPEG and Ogg.
TEST(FilmFiles, TimesAreThoseOfTheProbe) {
    for (const auto& path : {kPhone, other("movie-hello.mp4"), other("movie-hello.avi"),
                             other("movie-hello.mpeg"), other("movie-hello.ogg")}) {
        SCOPED_TRACE(path.filename().string());
        const auto film = opened(path);
        ASSERT_TRUE(film);
        const std::vector<double> expected = probed_times(path);
        ASSERT_EQ(film->facts().pictures(), expected.size());
        for (std::size_t i = 0; i < expected.size(); ++i)
            EXPECT_NEAR(film->facts().stored_s[i], expected[i], 2e-6) << i;
    }
}

TEST(FilmFiles, APictureIsTheSameForwardsBackwardsAndOutOfNowhere) {
    for (const auto& path : {kPhone, other("movie-hello.avi"), other("movie-hello.mpeg")}) {
        SCOPED_TRACE(path.filename().string());
        const auto film = opened(path);
        ASSERT_TRUE(film);
        const std::size_t n = std::min<std::size_t>(film->facts().pictures(), 60);
        std::vector<SharedPicture> forwards;
        for (std::size_t i = 0; i < n; ++i) {
            forwards.push_back(film->picture(i));
            ASSERT_TRUE(forwards.back()) << i << film->problem();
        }
        const auto again = opened(path); // nothing of it is at hand
        for (std::size_t i = n; i-- > 0;)
            ASSERT_EQ(again->picture(i)->bgra, forwards[i]->bgra) << i;
        std::mt19937 random(7);
        for (int k = 0; k < 12; ++k) {
            const auto lone = opened(path);
            const std::size_t i = random() % n;
            ASSERT_EQ(lone->picture(i)->bgra, forwards[i]->bgra) << i;
        }
    }
}

TEST(FilmFiles, PicturesAreThoseThatFfmpegShows) {
    const auto film = opened(kPhone);
    for (const std::size_t number : {0, 17, 40}) {
        const SharedPicture picture = film->picture(number);
        ASSERT_TRUE(picture);
        // Scalers round differently.
        EXPECT_LT(mean_difference(*picture, shown_by_ffmpeg(kPhone, number)), 1.5) << number;
    }
}

TEST(FilmFiles, ATurnedFilmStandsUprightAsInFfmpeg) {
    for (const int turned : {0, 90, 180, 270}) {
        SCOPED_TRACE(turned);
        const FilmedSwing swing([&](simulate::FilmCamera& camera, FilmLook& look) {
            FilmedSwing::make_small(camera, look);
            look.stored.turned_deg = turned;
        });
        const auto film = opened(swing.path);
        EXPECT_EQ(film->facts().turned_deg, turned);
        EXPECT_EQ(film->facts().size_px, Pixel(180.0, 320.0));
        const SharedPicture picture = film->picture(100);
        ASSERT_TRUE(picture);
        EXPECT_EQ(picture->width_px, 180);
        EXPECT_EQ(picture->height_px, 320);
        EXPECT_LT(mean_difference(*picture, shown_by_ffmpeg(swing.path, 100)), 1.5);
    }
}

TEST(FilmFiles, SlowMotionIsTakenBackToRealTime) {
    const FilmedSwing swing([](simulate::FilmCamera& camera, FilmLook& look) {
        FilmedSwing::make_small(camera, look);
        look.stored.stored_rate_hz = 30.0;
    });
    const auto film = opened(swing.path);
    const FilmFacts& facts = film->facts();
    ASSERT_TRUE(facts.capture_rate_hz);
    EXPECT_DOUBLE_EQ(*facts.capture_rate_hz, 240.0);
    EXPECT_NEAR(facts.stored_rate_hz, 30.0, 1e-3);
    EXPECT_NEAR(slow_motion_of(facts, 240.0), 8.0, 1e-3);
    EXPECT_NEAR(facts.real_s(240, 240.0), 1.0, 1e-4);
    EXPECT_EQ(facts.nearest(1.0, 240.0), 240U);
    // Nobody said how it was filmed: as it plays.
    EXPECT_NEAR(facts.real_s(240, 0.0), 8.0, 1e-3);
}

TEST(FilmFiles, ARateThatIsNotToldStaysUnknown) {
    EXPECT_FALSE(opened(kPhone)->facts().capture_rate_hz);
    const FilmedSwing swing([](simulate::FilmCamera& camera, FilmLook& look) {
        FilmedSwing::make_small(camera, look);
        look.stored.tells_capture_rate = false;
    });
    EXPECT_FALSE(opened(swing.path)->facts().capture_rate_hz);
}

TEST(FilmFiles, TheStrikeIsHeardWhereItWas) {
    for (const double stored_hz : {240.0, 30.0}) {
        SCOPED_TRACE(stored_hz);
        // FFmpeg's MP4 writer forgets memory of a sound track, which the leak check minds.
        const FilmedSwing swing(
            [&](simulate::FilmCamera& camera, FilmLook& look) {
                FilmedSwing::make_small(camera, look);
                look.stored.stored_rate_hz = stored_hz;
                look.with_sound = true;
            },
            "swing.mkv");
        const auto film = opened(swing.path);
        const auto sound = read_sound(swing.path);
        ASSERT_TRUE(sound.ok());
        const auto strike = find_strike(sound.value.values, sound.value.rate_hz);
        ASSERT_TRUE(strike);
        const double heard_s =
            (sound.value.starts_s + strike->t_s) / slow_motion_of(film->facts(), 240.0);
        // The phone stands 4.2 m from the hips and 3.45 m from the ball along the floor.
        const double way_s = Eigen::Vector3d(0.11, 3.45, 1.1).norm() * kSound_s_per_m;
        const double impact_s = swing.times.impact_s - swing.setup.cameras.front().starts_s;
        EXPECT_NEAR(heard_s - way_s, impact_s, 0.001);
    }
}

TEST(FilmFiles, SilenceAndSpeechHaveNoStrike) {
    EXPECT_FALSE(find_strike(std::vector<float>(96000, 0.0F), 48000.0));
    const auto sound = read_sound(kPhone);
    ASSERT_TRUE(sound.ok());
    ASSERT_FALSE(sound.value.values.empty());
    EXPECT_FALSE(find_strike(sound.value.values, sound.value.rate_hz));
    // Two balls struck one after the other: somebody must say which.
    std::vector<float> twice = swing_sound(1.0, 3.0, 3.0, 48000, 1);
    ASSERT_TRUE(find_strike(twice, 48000.0));
    const std::vector<float> second = swing_sound(2.2, 3.0, 3.0, 48000, 2);
    for (std::size_t i = 0; i < twice.size(); ++i)
        twice[i] += second[i];
    EXPECT_FALSE(find_strike(twice, 48000.0));
}

TEST(FilmFiles, AFolderOfNumberedPicturesIsAFilm) {
    const TemporaryFolder folder;
    // Ten before two by name, not by number.
    output_of("ffmpeg -v error -i " + quoted(kPhone) + " -frames:v 12 -start_number 1 " +
              quoted(folder.path("swing-%d.png")));
    folder.write("notes.txt", "not a picture");
    ASSERT_TRUE(is_picture_folder(folder.path("")));
    const auto film = opened(folder.path(""));
    ASSERT_EQ(film->facts().pictures(), 12U);
    EXPECT_FALSE(film->facts().capture_rate_hz);
    EXPECT_NEAR(film->facts().real_s(11, 240.0), 11.0 / 240.0, 1e-9);
    const auto phone = opened(kPhone);
    for (const std::size_t i : {0, 1, 9, 11}) {
        const SharedPicture a = film->picture(i);
        const SharedPicture b = phone->picture(i);
        ASSERT_TRUE(a && b);
        // Stored as red, green, blue on the way.
        EXPECT_LT(mean_difference(*a, std::string(b->bgra.begin(), b->bgra.end())), 4.0) << i;
    }
    folder.write("swing-13.png", "no picture at all");
    const auto broken = opened(folder.path(""));
    EXPECT_FALSE(broken->picture(12));
    EXPECT_NE(broken->problem().find("swing-13.png"), std::string::npos);
}

TEST(FilmFiles, TheCacheStaysBounded) {
    const auto film = opened(other("movie-hello.mp4"));
    for (std::size_t i = 0; i < film->facts().pictures(); ++i)
        ASSERT_TRUE(film->picture(i));
    EXPECT_GT(film->cache_bytes(), 0U);
    EXPECT_LE(film->cache_bytes(), Film::kCacheBytes);
    // 249 pictures of 1280 x 720 (1.4 MB each) fit: all of them are at hand.
    EXPECT_TRUE(film->is_near(0));
}

TEST(FilmFiles, WhatIsNoFilmIsSaidInWords) {
    const TemporaryFolder folder;
    const auto missing = Film::open(folder.path("gone.mp4"));
    ASSERT_FALSE(missing.ok());
    EXPECT_EQ(missing.findings.front().code, "no-film");
    EXPECT_FALSE(missing.findings.front().mend.empty());
    const auto text = Film::open(folder.write("text.mp4", "This is a letter.\n"));
    ASSERT_FALSE(text.ok());
    EXPECT_EQ(text.findings.front().code, "not-a-film");
    EXPECT_FALSE(text.findings.front().mend.empty());
    EXPECT_FALSE(Film::open(folder.write("empty.mp4", "")).ok());
    std::filesystem::create_directory(folder.path("nothing"));
    EXPECT_EQ(Film::open(folder.path("nothing")).findings.front().code, "no-pictures");
    std::filesystem::create_directory(folder.path("frames"));
    for (const char* name : {"frames/a-0001.png", "frames/a-0002.png"})
        folder.write(name, "no picture");
    const auto frames = Film::open(folder.path("frames"));
    ASSERT_FALSE(frames.ok());
    EXPECT_EQ(frames.findings.front().code, "not-decodable");
}

TEST(FilmFiles, WhatCannotBeWrittenIsSaid) {
    const TemporaryFolder folder;
    const auto grey = [](std::size_t) {
        Drawn out;
        out.width_px = out.height_px = 32;
        out.bgr.assign(std::size_t{3} * 32 * 32, 90);
        return out;
    };
    for (const auto& path : {folder.path("no-such-folder/a.mp4"), folder.path("a.letter")}) {
        const auto said = write_film(path, 3, grey, {});
        ASSERT_EQ(said.size(), 1U) << path;
        EXPECT_EQ(said.front().code, "film-not-written");
        EXPECT_EQ(said.front().where, path.string());
        EXPECT_FALSE(std::filesystem::exists(path));
    }
    EXPECT_EQ(write_film(folder.path("none.mp4"), 0, grey, {}).size(), 1U) << "nothing to show";
}

namespace {

/// Opens what may be damaged and walks through it both ways; counts what came.
std::size_t walk(const std::filesystem::path& path) {
    const auto film = Film::open(path);
    read_sound(path);
    if (!film.ok()) {
        EXPECT_FALSE(film.findings.front().what.empty());
        EXPECT_FALSE(film.findings.front().mend.empty());
        return 0;
    }
    std::size_t got = 0;
    const std::size_t n = std::min<std::size_t>(film.value->facts().pictures(), 50);
    for (std::size_t i = 0; i < n; i += 5)
        got += film.value->picture(i) ? 1U : 0U;
    for (std::size_t i = n; i > 7; i -= 7)
        got += film.value->picture(i - 1) ? 1U : 0U;
    return got;
}

} // namespace

TEST(FilmFiles, BrokenCopiesAreRefusedOrShownAsFarAsTheyGo) {
    const TemporaryFolder folder;
    const std::string whole = TemporaryFolder::read(kPhone);
    ASSERT_GT(whole.size(), 100000U);
    std::mt19937 random(11);
    // Cut: the list of pictures of this file stands at its end.
    for (const double share : {0.001, 0.02, 0.3, 0.7, 0.999})
        walk(folder.write(
            "cut.mp4",
            whole.substr(0, static_cast<std::size_t>(share * static_cast<double>(whole.size())))));
    // Flipped bytes, anywhere and in the list.
    std::size_t shown = 0;
    const std::size_t list = whole.find("moov");
    ASSERT_NE(list, std::string::npos);
    for (int round = 0; round < 16; ++round) {
        std::string bytes = whole;
        for (int k = 0; k < 40; ++k) {
            const std::size_t at =
                round % 2 == 0 ? random() % bytes.size()
                               : list + random() % std::min<std::size_t>(3000, bytes.size() - list);
            bytes[at] = static_cast<char>(random());
        }
        shown += walk(folder.write("flipped.mp4", bytes));
    }
    EXPECT_GT(shown, 0U); // a few bytes do not cost the whole film
}

// One picture in the middle whose data begin with what no picture begins with: the frame marker of
// VP9 is 2 (VP9 bitstream specification 6.2, uncompressed_header).
TEST(FilmFiles, OneDamagedPictureCostsNothingElse) {
    const FilmedSwing swing;
    const auto whole = opened(swing.path);
    const auto probe = [&](const char* entries) {
        std::vector<std::string> out;
        std::istringstream lines(output_of("ffprobe -v error -select_streams v -show_entries " +
                                           std::string(entries) + " -of csv=p=0 " +
                                           quoted(swing.path)));
        for (std::string line; std::getline(lines, line);)
            out.push_back(line);
        return out;
    };
    const auto places = probe("packet=pos");
    const auto flags = probe("packet=flags");
    ASSERT_EQ(places.size(), whole->facts().stored_s.size());
    ASSERT_EQ(flags.size(), places.size());
    std::vector<std::size_t> alone;
    for (std::size_t i = 0; i < flags.size(); ++i)
        if (flags[i].front() == 'K')
            alone.push_back(i);
    ASSERT_GE(alone.size(), 4U);
    const std::size_t hurt = alone[1] + 1;
    std::string bytes = TemporaryFolder::read(swing.path);
    bytes[std::stoul(places[hurt])] = 0;
    const TemporaryFolder folder;
    const auto film = opened(folder.write("hurt.mp4", bytes));
    ASSERT_TRUE(film);
    EXPECT_EQ(film->facts().stored_s.size(), places.size());
    EXPECT_EQ(film->picture(hurt), nullptr);
    EXPECT_NE(film->problem(), "");
    // A later one is reached from the picture that stands alone before it, not from the start.
    const std::size_t later = alone.back() + 2;
    EXPECT_TRUE(film->prepare(later, 4));
    for (const std::size_t number : {std::size_t{3}, hurt - 1, alone[2], later}) {
        const auto shown = film->picture(number);
        ASSERT_TRUE(shown) << number;
        EXPECT_EQ(shown->bgra, whole->picture(number)->bgra) << number;
    }
    EXPECT_EQ(film->picture(hurt), nullptr);
}

TEST(FilmFiles, AHeaderThatLiesAboutItsSizeIsRefused) {
    const TemporaryFolder folder;
    std::string bytes = TemporaryFolder::read(other("movie-hello.avi"));
    // The width in the AVI's stream header (BITMAPINFOHEADER of the strf chunk: bytes 12 to 15).
    const std::size_t at = bytes.find("strf");
    ASSERT_NE(at, std::string::npos);
    const std::uint32_t lie = 0x7fff0000;
    std::memcpy(bytes.data() + at + 12, &lie, 4);
    std::memcpy(bytes.data() + at + 16, &lie, 4);
    walk(folder.write("wide.avi", bytes)); // no gigabytes are asked for, nothing falls over
}

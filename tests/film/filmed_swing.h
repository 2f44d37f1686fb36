#pragma once

#include "film/film.h"
#include "film/render/film_writer.h"
#include "simulate/golfers.h"
#include "simulate/lens.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

namespace kite::test {

/// A made-up swing in a small film of one phone, and where things truly are in it.
struct FilmedSwing {
    simulate::SwingModel model{short_swing()};
    simulate::FilmSetup setup;
    simulate::PlaceOf place_of = simulate::points_of(model, setup);
    simulate::FilmTimes times = simulate::times_of(model);
    TemporaryFolder folder;
    std::filesystem::path path;

    explicit FilmedSwing(
        const std::function<void(simulate::FilmCamera&, film::FilmLook&)>& change = {},
        const char* name = "swing.mp4")
        : setup(simulate::usual_phones({film::Side::FaceOn}, 240.0)), path(folder.path(name)) {
        simulate::FilmCamera& camera = setup.cameras.front();
        camera.size_px = {360.0, 640.0};
        camera.focal_px /= 2.4; // as large as hands and club allow
        camera.blur_s = 0.0;    // five pictures are drawn for one with it
        film::FilmLook look;
        look.with_sound = false;
        if (change)
            change(camera, look);
        const std::vector<Finding> findings =
            film::film_swing(path, model, setup, camera, std::move(look));
        EXPECT_TRUE(findings.empty()) << (findings.empty() ? "" : text_of(findings.front()));
    }

    /// Where nobody looks closely: half as wide and high, without grain.
    static void make_small(simulate::FilmCamera& camera, film::FilmLook& look) {
        camera.size_px /= 2.0;
        camera.focal_px /= 2.0;
        look.grain = 0.0;
    }

    static simulate::SwingParameters short_swing() {
        simulate::SwingParameters out = simulate::typical_swing(ClubKind::Iron);
        out.lead_in_s = 0.35;
        out.follow_s = 0.3;
        return out;
    }

    film::Pixel truth(film::Point point, double film_s) const {
        const simulate::FilmCamera& camera = setup.cameras.front();
        return simulate::Lens(camera).see(place_of(point, camera.starts_s + film_s));
    }
};

} // namespace kite::test

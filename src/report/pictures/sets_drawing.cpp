#include "report/pictures/sets_drawing.h"

#include "core/base/names.h"
#include "core/base/units.h"
#include "report/pictures/ink_of.h"

#include <algorithm>
#include <cmath>

namespace kite::report {

SetStair stair_of_set(const std::vector<const Analysis*>& swings) {
    SetStair out;
    for (std::size_t part = 0; part < kSequence.size(); ++part)
        out.rates_deg_s[part] = calc_band(
            swings, [part](const Analysis& a) -> const Curve& { return a.rate_deg_s[part]; });
    out.peaks = summarise_peaks(swings);
    return out;
}

namespace {

constexpr double kFrom_s = -0.32;
constexpr double kTo_s = 0.06;

class SetsPicture {
public:
    SetsPicture(const SetStair& first, const SetStair& second, double width_mm, double height_mm,
                double letters, const Language& language)
        : first_(first), second_(second), letters_(letters),
          language_(language), out_{width_mm, height_mm, {}, {}}, left_mm_(26.0 * letters),
          right_mm_(width_mm - 4.0), lane_mm_((height_mm - 5.0 * letters) / 4.0) {}

    Drawing draw() {
        for (std::size_t part = 0; part < kSequence.size(); ++part)
            find_most(part);
        const double bottom = floor(0);
        out_.line({{x(0.0), 0.0}, {x(0.0), bottom}}, Ink::Soft, 0.25);
        for (std::size_t part = 0; part < kSequence.size(); ++part) {
            const Ink ink = ink_of(kSequence[part]);
            out_.line({{left_mm_, floor(part)}, {right_mm_, floor(part)}}, Ink::Line, 0.2);
            words({0.0, floor(part) - 1.2}, part_name(kSequence[part], language_), 2.9, ink, true);
            draw_band(first_.rates_deg_s[part], part, ink, false);
            draw_band(second_.rates_deg_s[part], part, ink, true);
        }
        draw_stair(first_, false);
        draw_stair(second_, true);
        for (int ms = 0; ms <= 300; ms += 100)
            out_.words({x(-1e-3 * ms), out_.height_mm - 0.8},
                       ms == 0 ? language_.translate(KITE_TR("impact"))
                               : filled(KITE_TR("{1} ms"), {written(-ms, 0, language_)}, language_),
                       2.5 * letters_, Ink::Soft, Anchor::Middle);
        return std::move(out_);
    }

private:
    double x(double t_s) const {
        return left_mm_ + (t_s - kFrom_s) / (kTo_s - kFrom_s) * (right_mm_ - left_mm_);
    }
    double floor(std::size_t part) const {
        return lane_mm_ * static_cast<double>(kSequence.size() - part);
    }
    double y(std::size_t part, double deg_s) const {
        return floor(part) - 0.85 * lane_mm_ * std::clamp(deg_s / most_deg_s_[part], 0.0, 1.0);
    }
    void words(Spot at, const std::string& text, double letters_mm, Ink ink, bool bold) {
        out_.words(at, text, letters_mm * letters_, ink, Anchor::Start, bold);
    }
    void find_most(std::size_t part) {
        most_deg_s_[part] = 1.0;
        for (const SetStair* set : {&first_, &second_}) {
            const Band& band = set->rates_deg_s[part];
            for (std::size_t i = 0; i < band.mean.size(); ++i)
                if (std::isfinite(band.mean[i] + band.sd[i]))
                    most_deg_s_[part] = std::max(most_deg_s_[part], band.mean[i] + band.sd[i]);
            const Summary& peak = set->peaks[part].peak_deg_s;
            if (std::isfinite(peak.mean))
                most_deg_s_[part] = std::max(most_deg_s_[part], peak.mean);
        }
    }
    /// In pieces where something is missing.
    void draw_band(const Band& band, std::size_t part, Ink ink, bool is_filled) {
        std::vector<Spot> upper;
        std::vector<Spot> lower;
        const auto end = [&] {
            if (upper.size() > 1 && is_filled) {
                std::vector<Spot> area = upper;
                area.insert(area.end(), lower.rbegin(), lower.rend());
                out_.area(area, ink).opacity = 0.25;
            } else if (upper.size() > 1) {
                out_.line(upper, ink, 0.25).dotted = true;
                out_.line(lower, ink, 0.25).dotted = true;
            }
            upper.clear();
            lower.clear();
        };
        for (std::size_t i = 0; i < band.t_s.size(); ++i) {
            const double t_s = band.t_s[i];
            const double mean = band.mean[i];
            const double sd = std::isfinite(band.sd[i]) ? band.sd[i] : 0.0;
            if (t_s < kFrom_s || t_s > kTo_s || !std::isfinite(mean)) {
                end();
                continue;
            }
            upper.push_back({x(t_s), y(part, mean + sd)});
            lower.push_back({x(t_s), y(part, mean - sd)});
        }
        end();
    }
    void draw_stair(const SetStair& set, bool is_second) {
        std::vector<Spot> steps;
        for (std::size_t part = 0; part < kSequence.size(); ++part) {
            const PeakSummary& peak = set.peaks[part];
            if (!std::isfinite(peak.from_impact_s.mean))
                continue;
            const Spot at{x(peak.from_impact_s.mean), y(part, peak.peak_deg_s.mean)};
            if (!steps.empty())
                steps.push_back({at.x_mm, steps.back().y_mm});
            steps.push_back(at);
        }
        if (steps.empty())
            return;
        out_.line(steps, is_second ? Ink::Text : Ink::Soft, is_second ? 0.6 : 0.4).dotted =
            !is_second;
        for (std::size_t part = 0; part < kSequence.size(); ++part) {
            const PeakSummary& peak = set.peaks[part];
            if (!std::isfinite(peak.from_impact_s.mean))
                continue;
            const double at = x(peak.from_impact_s.mean);
            const double high = y(part, peak.peak_deg_s.mean);
            const Ink ink = ink_of(kSequence[part]);
            if (std::isfinite(peak.from_impact_s.sd))
                out_.line({{x(peak.from_impact_s.mean - peak.from_impact_s.sd), high},
                           {x(peak.from_impact_s.mean + peak.from_impact_s.sd), high}},
                          ink, 0.5);
            out_.disc({at, high}, 0.9, is_second ? ink : Ink::Paper, ink, 0.4);
        }
    }

    const SetStair& first_;
    const SetStair& second_;
    double letters_;
    const Language& language_;
    Drawing out_;
    double left_mm_;
    double right_mm_;
    double lane_mm_;
    std::array<double, kSequence.size()> most_deg_s_{};
};

} // namespace

Drawing sets_drawing(const SetStair& first, const SetStair& second, double width_mm,
                     double height_mm, double letters, const Language& language) {
    return SetsPicture(first, second, width_mm, height_mm, letters, language).draw();
}

} // namespace kite::report

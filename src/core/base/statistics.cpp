#include "core/base/statistics.h"

#include "core/base/normal.h"

#include <algorithm>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <numeric>

namespace kite {

namespace {

double sd_of(const std::vector<double>& values, double mean) {
    double sum = 0.0;
    for (double value : values)
        sum += (value - mean) * (value - mean);
    return std::sqrt(sum / static_cast<double>(values.size() - 1));
}

double mean_of(const std::vector<double>& values) {
    return std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}

} // namespace

Summary summarise(const std::vector<double>& all) {
    std::vector<double> values;
    std::copy_if(all.begin(), all.end(), std::back_inserter(values),
                 [](double value) { return std::isfinite(value); });
    Summary out;
    out.count = values.size();
    if (values.empty())
        return out;
    out.mean = mean_of(values);
    if (values.size() < 2)
        return out;
    out.sd = sd_of(values, out.mean);
    if (values.size() < 3)
        return out;
    std::vector<double> changes;
    for (std::size_t i = 1; i < values.size(); ++i)
        changes.push_back(values[i] - values[i - 1]);
    out.typical_error = sd_of(changes, mean_of(changes)) / std::sqrt(2.0);
    return out;
}

double student_t_quantile(double p, double degrees_of_freedom) {
    return boost::math::quantile(boost::math::students_t(degrees_of_freedom), p);
}

double variance_inflation(std::size_t n, double lag_one) {
    double out = 1.0;
    double power = 1.0;
    for (std::size_t k = 1; k < n; ++k) {
        power *= lag_one;
        out += 2.0 * (1.0 - static_cast<double>(k) / static_cast<double>(n)) * power;
    }
    return out;
}

double lag_one_of(const std::vector<double>& before, const std::vector<double>& after) {
    constexpr double kUsual = 0.2;  // common practice, no source
    constexpr double kWorth = 15.0; // swings that this is worth
    // It is known from few swings itself: too little of it invents changes.
    constexpr double kToBeSafe = 0.5; // standard errors
    double products = 0.0;
    double squares = 0.0;
    double pairs = 0.0;
    double sets = 0.0;
    for (const auto* all : {&before, &after}) {
        std::vector<double> values;
        std::copy_if(all->begin(), all->end(), std::back_inserter(values),
                     [](double value) { return std::isfinite(value); });
        if (values.size() < 3)
            continue;
        const double mean = mean_of(values);
        for (std::size_t i = 0; i < values.size(); ++i) {
            squares += (values[i] - mean) * (values[i] - mean);
            if (i > 0)
                products += (values[i] - mean) * (values[i - 1] - mean);
        }
        pairs += static_cast<double>(values.size() - 1);
        sets += 1.0;
    }
    if (!(squares > 0.0))
        return kUsual;
    // An estimate about its own mean is too small by about (1 + 3 ρ) / n.
    const double found = products / squares + (1.0 + 3.0 * kUsual) / ((pairs + sets) / sets);
    const double drawn = (pairs * found + kWorth * kUsual) / (pairs + kWorth);
    return std::clamp(drawn + kToBeSafe / std::sqrt(pairs + kWorth), 0.0, 0.8);
}

namespace {

/// Variance of a set's mean, and how well it is known.
struct MeanVariance {
    double variance = 0.0;
    double degrees_of_freedom = 0.0;
};

MeanVariance variance_of_mean(const Summary& set, const Hanging& hanging) {
    const auto n = static_cast<double>(set.count);
    const double inflation = variance_inflation(set.count, hanging.lag_one);
    // What hangs together scatters less about its own mean than it does at large.
    const double at_large = set.sd * set.sd * (n - 1.0) / (n - inflation);
    const double least = hanging.least_sd * hanging.least_sd;
    MeanVariance out;
    out.variance = std::max(at_large * inflation, least) / n;
    // A variance is known by its squares, which hang together by the square of the correlation.
    out.degrees_of_freedom =
        std::max(1.0, (n - 1.0) / variance_inflation(set.count, hanging.lag_one * hanging.lag_one));
    return out;
}

} // namespace

void Change::widen_to(double level) {
    if (!(error > 0.0))
        return;
    const double half = error * student_t_quantile(0.5 + 0.5 * level, degrees_of_freedom);
    low = difference - half;
    high = difference + half;
}

Change calc_change(const Summary& before, const Summary& after, const Hanging& hanging) {
    Change out;
    out.difference = after.mean - before.mean;
    if (before.count < 2 || after.count < 2)
        return out;
    const MeanVariance a = variance_of_mean(before, hanging);
    const MeanVariance b = variance_of_mean(after, hanging);
    const double between = 2.0 * hanging.session_sd * hanging.session_sd;
    const double variance = a.variance + b.variance + between;
    // Values all alike, of unknown uncertainty: how well the difference is known is not known.
    if (!(variance > 0.0))
        return out;
    out.error = std::sqrt(variance);
    // Welch–Satterthwaite.
    out.degrees_of_freedom = variance * variance /
                             (a.variance * a.variance / a.degrees_of_freedom +
                              b.variance * b.variance / b.degrees_of_freedom +
                              between * between / hanging.session_degrees_of_freedom);
    out.degrees_of_freedom = std::min(out.degrees_of_freedom, 1e6);
    out.widen_to(0.95);
    const boost::math::students_t distribution(out.degrees_of_freedom);
    out.p = 2.0 * boost::math::cdf(
                      boost::math::complement(distribution, std::abs(out.difference) / out.error));
    return out;
}

double tolerance_factor(std::size_t n, double content, double confidence) {
    const double root = std::sqrt(static_cast<double>(n));
    const boost::math::non_central_t distribution(static_cast<double>(n) - 1.0,
                                                  normal_quantile(content) * root);
    return boost::math::quantile(distribution, confidence) / root;
}

std::vector<bool> control_false_discoveries(const std::vector<double>& p, double q) {
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < p.size(); ++i)
        if (std::isfinite(p[i]))
            order.push_back(i);
    std::sort(order.begin(), order.end(),
              [&](std::size_t a, std::size_t b) { return p[a] < p[b]; });
    std::size_t rejected = 0;
    for (std::size_t k = 1; k <= order.size(); ++k)
        if (p[order[k - 1]] <= static_cast<double>(k) * q / static_cast<double>(order.size()))
            rejected = k;
    std::vector<bool> out(p.size(), false);
    for (std::size_t k = 0; k < rejected; ++k)
        out[order[k]] = true;
    return out;
}

} // namespace kite

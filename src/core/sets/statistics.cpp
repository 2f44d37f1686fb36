#include "core/sets/statistics.h"

#include <algorithm>
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

Change calc_change(const Summary& before, const Summary& after) {
    Change out;
    out.difference = after.mean - before.mean;
    if (before.count < 2 || after.count < 2)
        return out;
    const double a = before.sd * before.sd / static_cast<double>(before.count);
    const double b = after.sd * after.sd / static_cast<double>(after.count);
    const double error = std::sqrt(a + b);
    if (!(error > 0.0)) {
        // All values alike: the difference is what it is.
        out.low = out.high = out.difference;
        out.p = out.difference == 0.0 ? 1.0 : 0.0;
        return out;
    }
    // Welch–Satterthwaite.
    out.degrees_of_freedom = (a + b) * (a + b) /
                             (a * a / static_cast<double>(before.count - 1) +
                              b * b / static_cast<double>(after.count - 1));
    const double half = error * student_t_quantile(0.975, out.degrees_of_freedom);
    out.low = out.difference - half;
    out.high = out.difference + half;
    const boost::math::students_t distribution(out.degrees_of_freedom);
    out.p = 2.0 * boost::math::cdf(
                      boost::math::complement(distribution, std::abs(out.difference) / error));
    return out;
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

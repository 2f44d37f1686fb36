#include "store/measured.h"

#include "formats/json/analysis_json.h"
#include "store/packing.h"

#include <QDateTime>
#include <QFileInfo>

#include <algorithm>
#include <cmath>

namespace kite::store {

std::string title_of(const std::string& fault, const Rules& rules) {
    const FaultRule* rule = rules.find(fault);
    return rule == nullptr ? std::string() : rule->title;
}

NewSwing new_swing(const std::string& file, const std::string& bytes, const std::string& told,
                   const Analysis& analysis, const Reading& reading, const Rules& rules,
                   const std::vector<Finding>& findings) {
    NewSwing out;
    out.size = bytes.size();
    out.sha256 = sha256_of(bytes);
    out.packed = pack(bytes);
    const QFileInfo info(QString::fromStdString(file));
    out.file = info.fileName().toStdString();
    out.origin = info.absoluteFilePath().toStdString();
    if (info.exists())
        out.file_time = info.lastModified().toUTC().toString(Qt::ISODate).toStdString();
    out.told = told;
    if (analysis.handed_said)
        out.handed = key_of(analysis.handed);
    if (analysis.club_said)
        out.club = key_of(analysis.club);
    if (reading.first_fix) {
        out.first_fix = *reading.first_fix;
        out.first_fix_words = title_of(out.first_fix, rules);
    }
    out.result = pack(formats::to_json(file, analysis, reading, findings));
    return out;
}

std::map<Moment, double> moved_moments(const std::string& column) {
    std::map<Moment, double> out;
    const Row moved = Row::parse(column, nullptr, false);
    if (moved.is_object())
        for (const Moment moment : kAllMoments)
            if (const std::string key(key_of(moment));
                moved.contains(key) && moved.at(key).is_number())
                out[moment] = moved.at(key).get<double>();
    return out;
}

std::string column_of(const std::map<Moment, double>& moved_s) {
    Row out = Row::object();
    for (const auto& [moment, t_s] : moved_s)
        out[std::string(key_of(moment))] = t_s;
    return out.empty() ? std::string() : out.dump();
}

std::map<std::string, Measured> measures_in(const std::string& result_json) {
    std::map<std::string, Measured> out;
    const Row json = Row::parse(result_json, nullptr, false);
    if (!json.is_object())
        return out;
    const auto number_at = [&](const std::string& dotted) {
        std::string path = "/" + dotted;
        std::replace(path.begin(), path.end(), '.', '/');
        const Row::json_pointer place(path);
        return json.contains(place) && json.at(place).is_number() ? json.at(place).get<double>()
                                                                  : kMissing;
    };
    for (const Measure& measure : all_measures())
        if (const double value = number_at(measure.key); std::isfinite(value))
            out[measure.key] = {value, number_at(uncertainty_key(measure.key))};
    return out;
}

} // namespace kite::store

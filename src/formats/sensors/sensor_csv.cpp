#include "formats/sensors/sensor_csv.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/motion/sensors.h"
#include "core/motion/uniform.h"
#include "formats/columns/table_take.h"
#include "formats/text/delimited.h"
#include "formats/text/numbers.h"

#include <array>
#include <cmath>
#include <sstream>

namespace kite::formats {

using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

using Columns3 = std::array<const std::vector<double>*, 3>;

std::optional<Columns3> find_three(const DelimitedTable& table, const std::string& prefix,
                                   const std::array<const char*, 3>& suffixes) {
    Columns3 out{};
    for (std::size_t i = 0; i < 3; ++i) {
        out[i] = table.find(prefix + suffixes[i]);
        if (out[i] == nullptr)
            return std::nullopt;
    }
    return out;
}

std::vector<Vector3d> vectors_of(const Columns3& columns, double factor) {
    std::vector<Vector3d> out(columns[0]->size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = factor * Vector3d((*columns[0])[i], (*columns[1])[i], (*columns[2])[i]);
    return out;
}

/// "w x y z"; empty if it is no rotation.
std::optional<Quaterniond> find_rotation(const std::string& text) {
    std::istringstream in(text);
    in.imbue(std::locale::classic());
    std::array<double, 4> v{};
    for (double& value : v)
        if (!(in >> value))
            return std::nullopt;
    const Quaterniond q(v[0], v[1], v[2], v[3]);
    if (!is_finite(q) || std::abs(q.norm() - 1.0) > 0.05)
        return std::nullopt;
    return q.normalized();
}

void resample(std::vector<Vector3d>& values, const std::vector<double>& times_s,
              const TimeBase& base) {
    std::vector<std::vector<Vector3d>> track{std::move(values)};
    resample_tracks(track, times_s, base);
    values = std::move(track.front());
}

/// All gyros of a table, to judge its time stamps by.
std::vector<std::vector<Vector3d>> gyro_tracks(const DelimitedTable& table) {
    std::vector<std::vector<Vector3d>> out;
    for (Segment segment : kAllSegments)
        if (const auto gyro =
                find_three(table, std::string(key_of(segment)), {"_gx_dps", "_gy_dps", "_gz_dps"}))
            out.push_back(vectors_of(*gyro, 1.0));
    return out;
}

} // namespace

int sensor_csv_sureness(std::string_view bytes, const std::filesystem::path& /*path*/) {
    return without_mark(bytes).substr(0, 65536).find("_gx_dps") != std::string_view::npos ? 90 : 0;
}

Outcome<Take> read_sensor_csv(std::string_view bytes, const ReadOptions& options) {
    Outcome<DelimitedTable> table = read_delimited(bytes);
    if (!table.ok())
        return {{}, std::move(table.findings)};
    const DelimitedTable& columns = table.value;
    TableTake reader(columns, options);
    for (Finding& finding : table.findings)
        reader.add(std::move(finding));

    if (!reader.usable())
        return reader.give_up();
    SensorTake sensors;
    const std::vector<double>* time = &reader.times_s();
    Outcome<TimeBase> base = find_time_base(*time, reader.rate_hz());
    settle_tremble(gyro_tracks(columns), *time, base);
    const bool timed = base.ok();
    sensors.rate_hz = base.value.rate_hz;
    sensors.frames = base.value.frames;
    for (Segment segment : kAllSegments) {
        if (!timed)
            break;
        const std::string key(key_of(segment));
        const auto gyro = find_three(columns, key, {"_gx_dps", "_gy_dps", "_gz_dps"});
        if (!gyro)
            continue;
        SensorSeries sensor;
        sensor.gyro_rad_s = vectors_of(*gyro, rad_from_deg(1.0));
        if (const auto force = find_three(columns, key, {"_ax_g", "_ay_g", "_az_g"}))
            sensor.specific_force_g = vectors_of(*force, 1.0);
        else
            sensor.specific_force_g.assign(columns.rows(), missing_point());
        const auto* w = columns.find(key + "_qw");
        if (const auto xyz = find_three(columns, key, {"_qx", "_qy", "_qz"});
            w != nullptr && xyz && !base.value.resampled) {
            for (std::size_t i = 0; i < columns.rows(); ++i)
                sensor.q_world_sensor.emplace_back((*w)[i], (*(*xyz)[0])[i], (*(*xyz)[1])[i],
                                                   (*(*xyz)[2])[i]);
        }
        if (const auto text = columns.find_comment("mount_" + key)) {
            const auto mount = find_rotation(*text);
            if (!mount) {
                reader.add({Severity::Error, "bad-mount",
                            "\"" + *text + "\" is not a rotation (w x y z).", "mount_" + key,
                            "Give a unit quaternion, scalar first, for instance 1 0 0 0."});
                return reader.finish("");
            }
            sensor.q_segment_sensor = *mount;
        }
        if (base.value.resampled) {
            resample(sensor.gyro_rad_s, *time, base.value);
            resample(sensor.specific_force_g, *time, base.value);
        }
        sensors.sensors[segment] = std::move(sensor);
    }
    if (timed && !sensors.sensors.empty()) {
        Outcome<std::map<Segment, PoseSeries>> poses = poses_from_sensors(sensors);
        for (Finding& finding : poses.findings)
            reader.add(std::move(finding));
        if (!poses.ok())
            return reader.give_up();
        reader.take().segments = std::move(poses.value);
        reader.take().source = Source::Sensors;
        return reader.finish_on(base);
    }
    return reader.finish("Name them pelvis_gx_dps, pelvis_ax_g and so on.");
}

} // namespace kite::formats

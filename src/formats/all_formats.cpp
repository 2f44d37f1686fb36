#include "formats/all_formats.h"

#include "formats/bvh/bvh.h"
#include "formats/c3d/c3d.h"
#include "formats/columns/columns.h"
#include "formats/film/film_json.h"
#include "formats/live/bay_capture.h"
#include "formats/markers/marker_file.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/sensors/sensor_csv.h"
#include "formats/trc/trc.h"

namespace kite::formats {

const std::vector<Format>& all_formats() {
    static const std::vector<Format> formats{
        {"pose CSV", pose_csv_sureness, read_pose_csv},
        {"angles CSV", angles_csv_sureness, read_angles_csv},
        {"rates CSV", rates_csv_sureness, read_rates_csv},
        {"sensor CSV", sensor_csv_sureness, read_sensor_csv},
        {"C3D", c3d_sureness, read_c3d},
        {"TRC", trc_sureness,
         [](std::string_view bytes, const ReadOptions& options) {
             return take_from_marker_file(read_trc_markers(bytes, options), options.axes, options);
         }},
        {"marks in film", film_json_sureness, read_film_json},
        {"swing of the bay", bay_capture_sureness, read_bay_capture},
        {"BVH", bvh_sureness, read_bvh},
        {"STO/MOT", storage_sureness, read_storage},
    };
    return formats;
}

} // namespace kite::formats

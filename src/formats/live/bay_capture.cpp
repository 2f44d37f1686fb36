#include "formats/live/bay_capture.h"

#include "live/capture.h"

namespace kite::formats {

int bay_capture_sureness(std::string_view bytes, const std::filesystem::path& /*path*/) {
    return live::is_raw(bytes) ? 100 : 0;
}

Outcome<Take> read_bay_capture(std::string_view bytes, const ReadOptions& options) {
    Outcome<live::Heard> heard = live::read_capture(bytes);
    if (!heard.ok())
        return {{}, std::move(heard.findings)};
    if (options.handed)
        heard.value.handed = options.handed;
    if (options.club)
        heard.value.club = options.club;
    Outcome<Take> out = live::take_of(heard.value);
    out.findings.insert(out.findings.begin(), heard.findings.begin(), heard.findings.end());
    return out;
}

} // namespace kite::formats

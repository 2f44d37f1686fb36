#include "formats/results/measures_csv.h"

#include "core/catalogue/measure.h"
#include "formats/text/csv_field.h"
#include "formats/text/numbers.h"

namespace kite::formats {

std::string measures_csv_header() {
    std::string out = "file,handed,club,rate_hz,convention,order,order_certainty";
    for (Moment moment : kAllMoments)
        out += "," + std::string(key_of(moment)) + "_s";
    for (const Measure& measure : all_measures())
        out += std::string(",") + measure.key;
    return out + "\r\n";
}

std::string measures_csv_row(const std::string& file, const Analysis& analysis) {
    std::string order;
    for (Segment segment : analysis.sequence.order)
        order += (order.empty() ? "" : " ") + std::string(key_of(segment));
    std::string out = csv_text_field(file) + "," + std::string(key_of(analysis.handed)) + "," +
                      std::string(key_of(analysis.club)) + "," + format_number(analysis.rate_hz) +
                      "," + std::string(key_of(analysis.options.convention)) + "," + order + "," +
                      fixed(analysis.sequence.order_certainty, 4);
    for (Moment moment : kAllMoments)
        out += "," + fixed(analysis.moments.time_s(moment), 5);
    for (const Measure& measure : all_measures())
        out += "," + fixed(measure.of(analysis).value, 4);
    return out + "\r\n";
}

} // namespace kite::formats

#include "formats/results/catalogue_markdown.h"

#include "core/catalogue/measure.h"
#include "formats/text/numbers.h"

namespace kite::formats {

namespace {

std::string cells(std::initializer_list<std::string> texts) {
    std::string out = "|";
    for (const std::string& text : texts)
        out += " " + text + " |";
    return out + "\n";
}

std::string name_of_topic(const char* key) {
    const Topic* topic = find_topic(key);
    return topic == nullptr ? "" : topic->name;
}

} // namespace

std::string catalogue_markdown() {
    std::string out =
        "# The catalogue\n\nWritten by `./kite docs` from `src/core/catalogue`; a test compares. "
        "One entry there puts a measure into the\nJSON, the CSV, comparisons and the help.\n\n"
        "## Measures: one number a swing\n\nThe key is the place in the JSON and the column of the "
        "measures CSV. Where the uncertainty is known, it stands beside the\nvalue: `…_u_deg` for "
        "`…_deg`. *Worth having*: the smallest change that is (common practice, no source).\n\n";
    out += cells({"key", "name", "unit", "worth having", "see"}) + "|---|---|---|---|---|\n";
    for (const Measure& measure : all_measures())
        out += cells({"`" + std::string(measure.key) + "`", measure.name, measure.unit,
                      format_number(measure.worthwhile), name_of_topic(measure.topic)});
    out += "\n## Quantities: a value at every moment\n\nThe key is the column of the time series "
           "and stands at every moment of `positions` in the JSON.\n\n";
    out += cells({"key", "name", "positive", "negative", "see"}) + "|---|---|---|---|---|\n";
    for (const Quantity& quantity : all_quantities())
        out += cells({"`" + std::string(quantity.file_key) + "`", quantity.name, quantity.up,
                      quantity.down, name_of_topic(quantity.topic)});
    out += "\n## What they are\n\n";
    out += cells({"name", "definition", "sign and unit", "source"}) + "|---|---|---|---|\n";
    for (const Topic& topic : all_topics())
        out += cells({topic.name, topic.definition, topic.sign, topic.source});
    return out;
}

} // namespace kite::formats

#pragma once

#include <string>

namespace kite::formats {

/// The catalogue of measures and quantities as tables in Markdown: docs/catalogue.md.
std::string catalogue_markdown();

} // namespace kite::formats

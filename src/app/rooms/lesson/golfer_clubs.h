#pragma once

#include "app/rooms/lesson/golfer_panel.h"

namespace kite::app {

/// A golfer's clubs as they are typed: kind, a name where it has one, length in metres, with a
/// semicolon between clubs: "driver 1.15; iron 7 0.94; wedge 0.90". As the record keeps them: a
/// list of `kind`, `name`, `length_m` as JSON.
Understood clubs_from(const QString& words);

/// The same back; empty where nothing is kept or what is kept is no such list.
QString clubs_in_words(const Row& kept);

} // namespace kite::app

#pragma once

#include "core/base/names.h"
#include "core/measures/analyse.h"
#include "core/reading/words.h"

#include <QString>

#include <filesystem>

namespace kite::app {

/// Numbers as the user's locale writes them, with a real minus sign; "–" for a missing value.
QString number_text(double value, int decimals = 0);

/// "38° open", "91° closed", "square".
QString turn_text(double turn_deg);

/// "88 ms before impact", "at impact", "12 ms after impact".
QString before_impact_text(double ms_from_impact);

QString segment_name(Segment segment);
QString moment_name(Moment moment);
QString club_name(ClubKind club);
QString handed_name(Handedness handed);
/// "iron, right-handed"; "club not said, left-handed (from the motion)".
QString golfer_text(const Analysis& analysis);

/// A file's name as the system knows it.
std::filesystem::path path_of(const QString& file);

/// A text of the rules, drills or the core in the user's language.
QString said(const std::string& words);

/// The core's texts through the application's translations and locale.
Language language();

} // namespace kite::app

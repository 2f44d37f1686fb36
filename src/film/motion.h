#pragma once

#include "film/picture.h"

namespace kite::film {

/// How much two pictures differ: mean difference of brightness, looked at from afar so that grain
/// does not count.
double difference(const GreyPicture& a, const GreyPicture& b);

} // namespace kite::film

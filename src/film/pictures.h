#pragma once

#include "film/ffmpeg.h"
#include "film/picture.h"

namespace kite::film {

/// Decoded pictures as they are shown: colours turned, pixels made square, one half of interlaced
/// ones, the whole turned upright. Keeps its scaler between pictures.
class Upright {
public:
    /// null: the frame cannot be shown.
    SharedPicture show(const AVFrame& frame, AVRational pixel_shape, int turned_deg);

private:
    Owned<SwsContext> scaler_;
};

/// Clockwise quarter turns that a stream asks for, °: 0, 90, 180 or 270.
int turn_of(const AVStream& stream);
/// Width over height of a pixel, 1 where nothing is said.
double pixel_width(AVRational shape);

} // namespace kite::film

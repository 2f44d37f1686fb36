#pragma once

#include "core/live/messages.h"

#include <string>
#include <string_view>
#include <vector>

namespace kite::live {

/// What one packet said, and what in it could not be understood.
struct Packet {
    std::vector<Message> messages;
    std::vector<std::string> problems; ///< a sentence each, bytes of the network made harmless
};

/// Open Sound Control 1.0: a message, or a bundle of messages and bundles. Assumes that the bytes
/// are damaged, or meant for somebody else. Time tags count from 1900; they come out as seconds
/// from 1970, whatever epoch the device means by them.
Packet decode(std::string_view bytes);

/// One bundle under one time tag (of the first message). What all messages of it have in common is
/// its device's clock.
std::string encode(const std::vector<Message>& messages);

} // namespace kite::live

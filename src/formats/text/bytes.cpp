#include "formats/text/bytes.h"

#include <fstream>
#include <system_error>

namespace kite::formats {

namespace fs = std::filesystem;
using Severity = Finding::Severity;

Outcome<std::string> read_bytes(const fs::path& path) {
    Outcome<std::string> out;
    std::error_code error;
    const fs::file_status status = fs::status(path, error);
    if (!fs::exists(status)) {
        out.add({Severity::Error, "no-file", "There is no such file.", "",
                 "Check its name and folder."});
        return out;
    }
    if (!fs::is_regular_file(status)) {
        out.add({Severity::Error, "not-a-file", "This is not a file.", "",
                 "Choose a file, not a folder."});
        return out;
    }
    std::ifstream in(path, std::ios::binary);
    const auto size = fs::file_size(path, error);
    if (!in || error) {
        out.add({Severity::Error, "unreadable", "The file cannot be opened.", "",
                 "Check that you may read it."});
        return out;
    }
    if (size > kMostBytes) {
        out.add({Severity::Error, "too-large",
                 "The file is larger than any capture of a lesson: "
                 "2 GiB and no more are read.",
                 "", "Cut it to the swing."});
        return out;
    }
    out.value.resize(size);
    in.read(out.value.data(), static_cast<std::streamsize>(size));
    if (in.bad()) {
        out.add({Severity::Error, "unreadable", "The file could not be read to its end.",
                 "byte " + std::to_string(in.gcount()), "Check the disk it is on."});
        return out;
    }
    out.value.resize(static_cast<std::size_t>(in.gcount()));
    if (out.value.empty())
        out.add(
            {Severity::Error, "empty", "The file is empty.", "", "Export the recording again."});
    return out;
}

std::vector<Finding> write_bytes(const fs::path& path, std::string_view bytes) {
    fs::path part = path;
    part += ".part";
    std::error_code error;
    {
        std::ofstream file(part, std::ios::binary | std::ios::trunc);
        file.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
        file.flush();
        if (!file) {
            file.close();
            fs::remove(part, error);
            return {{Severity::Error, "unwritable", "The file cannot be written.", "",
                     "Check the folder, your rights to it, and the room on the disk."}};
        }
    }
    fs::rename(part, path, error);
    if (error) {
        std::error_code ignored;
        fs::remove(part, ignored);
        return {{Severity::Error, "unwritable",
                 "The file cannot be put in its place: " + error.message() + ".", "",
                 "Check the folder and your rights to it."}};
    }
    return {};
}

} // namespace kite::formats

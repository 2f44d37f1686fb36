#include "formats/text/bytes.h"

#include <array>
#include <atomic>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>
#include <utility>

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

namespace {

std::vector<Finding> cannot_write(const std::string& what) {
    return {{Severity::Error, "unwritable", what, "",
             "Check the folder, your rights to it, and the room on the disk."}};
}

/// A file descriptor that is closed in any case.
class Descriptor {
public:
    explicit Descriptor(int number) : number_(number) {}
    ~Descriptor() {
        if (number_ >= 0)
            ::close(number_);
    }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    int number() const { return number_; }
    bool is_open() const { return number_ >= 0; }
    /// False: what was written may not be there.
    bool close() { return ::close(std::exchange(number_, -1)) == 0; }

private:
    int number_;
};

bool write_all(int number, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t written = ::write(number, bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR)
            continue;
        if (written <= 0)
            return false;
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return true;
}

/// Names of a folder are on disk. Some file systems have no such thing: that is no failure.
void sync_folder(const fs::path& folder) {
    const Descriptor opened(::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY));
    if (opened.is_open())
        ::fsync(opened.number());
}

/// Where a chain of links leads; the path itself where that cannot be said.
fs::path end_of_links(const fs::path& path) {
    std::error_code error;
    if (!fs::is_symlink(fs::symlink_status(path, error)))
        return path;
    fs::path out = fs::weakly_canonical(path, error);
    return error ? path : out;
}

} // namespace

bool is_database(const fs::path& path) {
    // https://www.sqlite.org/fileformat.html, "Magic Header String".
    constexpr std::string_view kMagic("SQLite format 3\0", 16);
    std::error_code error;
    if (!fs::is_regular_file(path, error))
        return false;
    std::array<char, kMagic.size()> head{};
    std::ifstream(path, std::ios::binary).read(head.data(), head.size());
    return std::string_view(head.data(), head.size()) == kMagic;
}

fs::path part_of(const fs::path& path) {
    fs::path out = path;
    static std::atomic<unsigned> number{0};
    out += "." + std::to_string(::getpid()) + "-" + std::to_string(++number) + ".part";
    return out;
}

std::vector<Finding> put_in_place(const fs::path& part, const fs::path& path, Old old) {
    std::error_code error;
    const fs::path target = end_of_links(path);
    const auto give_up = [&](std::vector<Finding> findings) {
        fs::remove(part, error);
        return findings;
    };
    if (is_database(target))
        return give_up({{Severity::Error, "is-a-record",
                         "This file is a record or another database; it was left as it is.", "",
                         "Name another file."}});
    {
        const Descriptor file(::open(part.c_str(), O_RDONLY));
        if (!file.is_open() || ::fsync(file.number()) != 0)
            return give_up(cannot_write(
                "The file cannot be written: " + std::string(std::strerror(errno)) + "."));
    }
    // The rights of the old file are those of the new one.
    if (const fs::file_status was = fs::status(target, error); fs::exists(was))
        fs::permissions(part, was.permissions(), error);
    const unsigned flags = old == Old::Stays ? RENAME_NOREPLACE : 0;
    int failed = ::renameat2(AT_FDCWD, part.c_str(), AT_FDCWD, target.c_str(), flags);
    if (failed != 0 && flags != 0 && (errno == EINVAL || errno == ENOSYS)) {
        // A file system that cannot do this: a second name is not given to what is there.
        failed = ::link(part.c_str(), target.c_str());
        if (failed == 0)
            ::unlink(part.c_str());
    }
    if (failed != 0) {
        const int why = errno;
        if (why == EEXIST)
            return give_up({{Severity::Error, "file-exists",
                             "There is a file of this name already; it was left as it is.", "",
                             "Give another name, or say that it may be replaced."}});
        return give_up(cannot_write(
            "The file cannot be put in its place: " + std::string(std::strerror(why)) + "."));
    }
    sync_folder(target.parent_path());
    return {};
}

std::vector<Finding> write_bytes(const fs::path& path, std::string_view bytes, Old old) {
    std::error_code error;
    const fs::file_status status = fs::status(path, error);
    const auto why = [] {
        return cannot_write("The file cannot be written: " + std::string(std::strerror(errno)) +
                            ".");
    };
    if (fs::is_directory(status))
        return cannot_write("This is a folder.");
    if (fs::exists(status) && !fs::is_regular_file(status)) {
        Descriptor device(::open(path.c_str(), O_WRONLY | O_CLOEXEC));
        if (!device.is_open() || !write_all(device.number(), bytes) || !device.close())
            return why();
        return {};
    }
    const fs::path part = part_of(end_of_links(path));
    constexpr mode_t kRights = 0666; // less what the user's mask takes away
    Descriptor file(::open(part.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, kRights));
    if (!file.is_open())
        return why();
    if (!write_all(file.number(), bytes) || !file.close()) {
        auto findings = why();
        fs::remove(part, error);
        return findings;
    }
    return put_in_place(part, path, old);
}

} // namespace kite::formats

#include "parts/load.h"

#include <dlfcn.h>
#include <filesystem>

namespace kite {

void* find_in_part(const std::string& part, const char* function, std::string& why) {
    std::error_code error;
    const auto folder = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    void* opened = nullptr;
    for (const char* place : {KITE_PARTS_FROM_BIN, "../../parts", "../parts"}) {
        const auto file = folder / place / (part + ".so");
        if (!std::filesystem::exists(file, error))
            continue;
        opened = dlopen(file.c_str(), RTLD_NOW | RTLD_LOCAL);
        if (opened != nullptr)
            break;
        why = dlerror();
    }
    if (opened == nullptr) {
        if (why.empty())
            why = part + ".so is not where it was installed";
        return nullptr;
    }
    void* found = dlsym(opened, function);
    if (found == nullptr)
        why = part + ".so is of another version";
    return found;
}

} // namespace kite

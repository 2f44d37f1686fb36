// Points of a C3D file as DART's loader (Debian: libdart-utils-dev) reads them: the outside values
// in dart_values.h. It divides by 1000 and swaps axes without a word: (x, y, z) → (y, z, x).
// Build: g++ -std=c++17 dart_c3d.cpp -I/usr/include/eigen3 -ldart-utils -ldart
// Usage: dart_c3d FILE FRAME POINT…

#include <cstdio>
#include <cstdlib>
#include <dart/utils/C3D.hpp>

int main(int argc, char** argv) {
    std::vector<std::vector<Eigen::Vector3d>> points;
    int frames = 0;
    int markers = 0;
    double rate = 0.0;
    if (!dart::utils::loadC3DFile(argv[1], points, &frames, &markers, &rate))
        return 1;
    std::printf("// %d frames, %d markers, %g Hz\n", frames, markers, rate);
    const auto frame = static_cast<std::size_t>(std::atoi(argv[2]));
    for (int i = 3; i < argc; ++i) {
        const Eigen::Vector3d& p = points[frame][static_cast<std::size_t>(std::atoi(argv[i]))];
        std::printf("    {%s, %s, {%.6f, %.6f, %.6f}},\n", argv[2], argv[i], p.x(), p.y(), p.z());
    }
    return 0;
}

// Joint positions of a BVH file as Assimp (Debian: libassimp-dev) reads them: the outside values in
// assimp_values.h. Build: g++ -std=c++17 assimp_bvh.cpp -lassimp
// Usage: assimp_bvh FILE FRAME JOINT…

#include <assimp/Importer.hpp>
#include <assimp/anim.h>
#include <assimp/scene.h>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <map>
#include <string>

static void walk(const aiNode* node, const aiMatrix4x4& parent, unsigned frame,
                 const std::map<std::string, const aiNodeAnim*>& channels,
                 std::map<std::string, aiVector3D>& out) {
    aiMatrix4x4 local = node->mTransformation;
    const auto found = channels.find(node->mName.C_Str());
    if (found != channels.end()) {
        const aiNodeAnim& c = *found->second;
        const auto at = [&](unsigned keys) { return frame < keys ? frame : keys - 1; };
        local = aiMatrix4x4(aiVector3D(1, 1, 1), c.mRotationKeys[at(c.mNumRotationKeys)].mValue,
                            c.mPositionKeys[at(c.mNumPositionKeys)].mValue);
    }
    const aiMatrix4x4 global = parent * local;
    out[node->mName.C_Str()] = aiVector3D(global.a4, global.b4, global.c4);
    for (unsigned i = 0; i < node->mNumChildren; ++i)
        walk(node->mChildren[i], global, frame, channels, out);
}

int main(int argc, char** argv) {
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(argv[1], 0);
    if (scene == nullptr || scene->mNumAnimations == 0)
        return 1;
    std::map<std::string, const aiNodeAnim*> channels;
    for (unsigned i = 0; i < scene->mAnimations[0]->mNumChannels; ++i)
        channels[scene->mAnimations[0]->mChannels[i]->mNodeName.C_Str()] =
            scene->mAnimations[0]->mChannels[i];
    std::map<std::string, aiVector3D> positions;
    walk(scene->mRootNode, aiMatrix4x4(), static_cast<unsigned>(std::atoi(argv[2])), channels,
         positions);
    for (int i = 3; i < argc; ++i) {
        const aiVector3D p = positions[argv[i]];
        std::printf("    {%s, \"%s\", {%.5f, %.5f, %.5f}},\n", argv[2], argv[i],
                    static_cast<double>(p.x), static_cast<double>(p.y), static_cast<double>(p.z));
    }
    return 0;
}

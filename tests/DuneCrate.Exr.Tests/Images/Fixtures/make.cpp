// Makes the fixtures that no command line tool writes: subsampled channels, deep parts, unusual line orders.
//   apt-get install g++ libopenexr-dev
//   g++ -std=c++17 make.cpp -o /tmp/make $(pkg-config --cflags --libs OpenEXR) && /tmp/make .
// Every NAME.exr of subsampled channels has a NAME.plain.exr beside it: the same samples as the library decodes them, uncompressed.
#include <ImfChannelList.h>
#include <ImfDeepFrameBuffer.h>
#include <ImfDeepScanLineOutputFile.h>
#include <ImfDeepTiledOutputFile.h>
#include <ImfFrameBuffer.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <ImfPartType.h>
#include <ImfTiledOutputFile.h>
#include <cmath>
#include <string>
#include <vector>

using namespace Imf;
using namespace Imath;

static std::string folder;

struct Plane { std::string name; int step; std::vector<half> samples; };

static FrameBuffer bufferOf(std::vector<Plane>& planes, const Box2i& window)
{
    FrameBuffer buffer;
    int width = window.max.x - window.min.x + 1;
    for (Plane& p : planes)
    {
        int across = width / p.step;
        char* base = (char*)p.samples.data() - ((window.min.y / p.step) * across + window.min.x / p.step) * (long)sizeof(half);
        buffer.insert(p.name, Slice(HALF, base, sizeof(half), sizeof(half) * across, p.step, p.step));
    }
    return buffer;
}

static Header headerOf(const std::vector<Plane>& planes, const Box2i& window, Compression compression)
{
    Header header(window, window);
    header.compression() = compression;
    for (const Plane& p : planes) header.channels().insert(p.name, Channel(HALF, p.step, p.step));
    return header;
}

static void subsampled(const char* name, Compression compression)
{
    Box2i window(V2i(-8, -4), V2i(31, 33));
    std::vector<Plane> planes { { "Y", 1, {} }, { "RY", 2, {} }, { "BY", 2, {} }, { "A", 1, {} } };
    for (Plane& p : planes)
        for (int y = 0; y < 38 / p.step; y++)
            for (int x = 0; x < 40 / p.step; x++)
                p.samples.push_back(half(0.5f + 0.4f * std::sin(x * 0.37f * p.step + p.name.size()) * std::cos(y * 0.21f * p.step)));
    std::string path = folder + "/" + name + ".exr";
    {
        OutputFile out(path.c_str(), headerOf(planes, window, compression));
        out.setFrameBuffer(bufferOf(planes, window));
        out.writePixels(38);
    }
    InputFile in(path.c_str());
    in.setFrameBuffer(bufferOf(planes, window));
    in.readPixels(window.min.y, window.max.y);
    OutputFile plain((folder + "/" + name + ".plain.exr").c_str(), headerOf(planes, window, NO_COMPRESSION));
    plain.setFrameBuffer(bufferOf(planes, window));
    plain.writePixels(38);
}

static void ordered(const char* name, LineOrder order, bool tiles)
{
    Box2i window(V2i(0, 0), V2i(39, 29));
    std::vector<Plane> planes { { "R", 1, {} } };
    for (int i = 0; i < 40 * 30; i++) planes[0].samples.push_back(half(i * 0.01f));
    Header header = headerOf(planes, window, ZIP_COMPRESSION);
    header.lineOrder() = order;
    std::string path = folder + "/" + name + ".exr";
    if (!tiles)
    {
        OutputFile out(path.c_str(), header);
        out.setFrameBuffer(bufferOf(planes, window));
        out.writePixels(30);
        return;
    }
    header.setTileDescription(TileDescription(16, 16, ONE_LEVEL));
    TiledOutputFile out(path.c_str(), header);
    out.setFrameBuffer(bufferOf(planes, window));
    for (int y = 0; y < 2; y++) for (int x = 2; x >= 0; x--) out.writeTile(x, 1 - y);
}

// 20 x 10 pixels; pixel (x, y) has (x + y) % 4 samples: 300 in all.
static void deep(const char* name, bool tiles)
{
    const int width = 20, height = 10;
    Box2i window(V2i(0, 0), V2i(width - 1, height - 1));
    Header header(window, window);
    header.compression() = ZIPS_COMPRESSION;
    header.channels().insert("Z", Channel(FLOAT));
    header.setType(tiles ? DEEPTILE : DEEPSCANLINE);
    if (tiles) header.setTileDescription(TileDescription(8, 8, ONE_LEVEL));
    std::vector<unsigned int> counts(width * height);
    std::vector<std::vector<float>> samples(width * height);
    std::vector<float*> pointers(width * height);
    for (int i = 0; i < width * height; i++)
    {
        counts[i] = (i % width + i / width) % 4;
        for (unsigned int s = 0; s < counts[i]; s++) samples[i].push_back(10.0f + s);
        pointers[i] = samples[i].data();
    }
    DeepFrameBuffer buffer;
    buffer.insertSampleCountSlice(Slice(UINT, (char*)counts.data(), sizeof(unsigned int), sizeof(unsigned int) * width));
    buffer.insert("Z", DeepSlice(FLOAT, (char*)pointers.data(), sizeof(float*), sizeof(float*) * width, sizeof(float)));
    std::string path = folder + "/" + name + ".exr";
    if (tiles)
    {
        DeepTiledOutputFile out(path.c_str(), header);
        out.setFrameBuffer(buffer);
        out.writeTiles(0, out.numXTiles() - 1, 0, out.numYTiles() - 1);
    }
    else
    {
        DeepScanLineOutputFile out(path.c_str(), header);
        out.setFrameBuffer(buffer);
        out.writePixels(height);
    }
}

int main(int count, char** arguments)
{
    folder = count > 1 ? arguments[1] : ".";
    subsampled("subsampled-none", NO_COMPRESSION);
    subsampled("subsampled-zip", ZIP_COMPRESSION);
    subsampled("subsampled-piz", PIZ_COMPRESSION);
    subsampled("subsampled-pxr24", PXR24_COMPRESSION);
    subsampled("subsampled-b44", B44_COMPRESSION);
    subsampled("subsampled-b44a", B44A_COMPRESSION);
    subsampled("subsampled-dwaa", DWAA_COMPRESSION);
    ordered("lines-decreasing", DECREASING_Y, false);
    ordered("tiles-random", RANDOM_Y, true);
    ordered("tiles-decreasing", DECREASING_Y, true);
    deep("deep-lines", false);
    deep("deep-tiles", true);
}

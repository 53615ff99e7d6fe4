using System.Globalization;
using System.Text;

namespace DuneCrate.Imaging.Cryptomatte;

/// <summary>
/// Names to ids as in the Cryptomatte specification 1.2: MurmurHash3 (x86, 32 bit, seed 0) of the UTF-8 name, and the hash's bits
/// taken as a float that is neither zero, denormal, infinite nor NaN.
/// </summary>
public static class CryptomatteHash
{
    /// <summary>MurmurHash3_x86_32 with seed 0 of the name's UTF-8 bytes.</summary>
    public static uint OfName(string name) => Murmur3(Encoding.UTF8.GetBytes(name), 0);

    /// <summary>
    /// The hash's bits as a float; when its exponent would be all zeros or all ones the lowest bit of the exponent is flipped.
    /// </summary>
    public static float ToFloat(uint hash)
    {
        uint exponent = (hash >> 23) & 255;
        return BitConverter.UInt32BitsToSingle(exponent is 0 or 255 ? hash ^ (1u << 23) : hash);
    }

    /// <summary>The seven hexadecimal digits that name a Cryptomatte layer's attributes in the header.</summary>
    public static string LayerKey(string layer) => OfName(layer).ToString("x8", CultureInfo.InvariantCulture)[..7];

    /// <summary>MurmurHash3_x86_32. Source: A. Appleby's published algorithm (public domain).</summary>
    public static uint Murmur3(ReadOnlySpan<byte> data, uint seed)
    {
        const uint C1 = 0xcc9e2d51,
            C2 = 0x1b873593;
        uint hash = seed;
        int i = 0;
        for (; i + 4 <= data.Length; i += 4)
        {
            uint k = System.Buffers.Binary.BinaryPrimitives.ReadUInt32LittleEndian(data[i..]);
            hash = uint.RotateLeft(hash ^ (uint.RotateLeft(k * C1, 15) * C2), 13) * 5 + 0xe6546b64;
        }

        uint tail = 0;
        for (int k = data.Length - 1; k >= i; k--)
        {
            tail = (tail << 8) | data[k];
        }

        hash ^= uint.RotateLeft(tail * C1, 15) * C2;
        hash ^= (uint)data.Length;
        hash = (hash ^ (hash >> 16)) * 0x85ebca6b;
        hash = (hash ^ (hash >> 13)) * 0xc2b2ae35;
        return hash ^ (hash >> 16);
    }
}

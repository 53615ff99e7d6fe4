using System.Collections.Immutable;
using System.Text;

namespace DuneCrate.Exr;

/// <summary>Writes magic number, version and headers. Source: <em>OpenEXR File Layout</em>.</summary>
internal static class ExrHeaderWriter
{
    /// <summary>The bytes from the magic number to the last header's end.</summary>
    public static byte[] Write(IReadOnlyList<ExrPart> parts)
    {
        using var bytes = new MemoryStream();
        using var writer = new BinaryWriter(bytes, Encoding.UTF8);
        bool multiPart = parts.Count > 1;
        bool longNames = parts.Any(p =>
            p.Attributes.Any(a => Encoding.UTF8.GetByteCount(a.Name) > 31 || a.Type.Length > 31)
            || p.Channels.Any(c => Encoding.UTF8.GetByteCount(c.Name) > 31)
        );
        writer.Write(ExrHeaderParser.Magic);
        writer.Write(2 | (longNames ? 0x400 : 0) | (multiPart ? 0x1000 : 0));
        foreach (ExrPart part in parts)
        {
            IEnumerable<ExrAttribute> attributes = part.Attributes;
            if (part.Name is not null || multiPart)
            {
                attributes = attributes
                    .Where(a => a.Name is not ("name" or "type" or "chunkCount"))
                    .Append(ExrAttribute.Text("name", part.Name ?? $"part{part.Index}"))
                    .Append(ExrAttribute.Text("type", "scanlineimage"))
                    .Append(ExrAttribute.Int("chunkCount", part.Chunks.Count));
            }

            foreach (ExrAttribute attribute in attributes)
            {
                Text(writer, attribute.Name);
                Text(writer, attribute.Type);
                writer.Write(attribute.Value.Length);
                writer.Write(attribute.Value.Span);
            }

            writer.Write((byte)0);
        }

        if (multiPart)
        {
            writer.Write((byte)0);
        }

        return bytes.ToArray();
    }

    /// <summary>The <c>channels</c> attribute of a sorted channel list.</summary>
    public static ExrAttribute ChannelList(ImmutableArray<ExrChannel> channels)
    {
        using var bytes = new MemoryStream();
        using var writer = new BinaryWriter(bytes, Encoding.UTF8);
        foreach (ExrChannel channel in channels)
        {
            Text(writer, channel.Name);
            writer.Write((int)channel.Type);
            writer.Write(channel.IsPerceptuallyLinear ? 1 : 0);
            writer.Write(channel.XSampling);
            writer.Write(channel.YSampling);
        }

        writer.Write((byte)0);
        return new ExrAttribute("channels", "chlist", bytes.ToArray());
    }

    private static void Text(BinaryWriter writer, string text)
    {
        writer.Write(Encoding.UTF8.GetBytes(text));
        writer.Write((byte)0);
    }
}

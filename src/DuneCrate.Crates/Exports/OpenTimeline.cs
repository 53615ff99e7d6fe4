using System.Text.Json.Nodes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;

namespace DuneCrate.Crates.Exports;

/// <summary>
/// A crate as a timeline: a track per layer with one clip, which refers to an image sequence for each pass; the lead pass is the active
/// one. Source: OpenTimelineIO, <em>File Format Specification</em> and <em>Serialized Schema Documentation</em> (Timeline.1, Stack.1,
/// Track.1, Clip.2, ImageSequenceReference.1, RationalTime.1, TimeRange.1).
/// </summary>
internal static class OpenTimeline
{
    /// <summary>The document's text.</summary>
    public static string Write(CrateManifest manifest)
    {
        double rate = (double)manifest.FrameRate.Numerator / manifest.FrameRate.Denominator;
        var tracks = new JsonArray();
        foreach (IGrouping<string, CratePass> layer in manifest.Passes.GroupBy(p => p.Layer))
        {
            tracks.Add(
                (JsonNode)
                    new JsonObject
                    {
                        ["OTIO_SCHEMA"] = "Track.1",
                        ["name"] = layer.Key,
                        ["kind"] = "Video",
                        ["source_range"] = null,
                        ["effects"] = new JsonArray(),
                        ["markers"] = new JsonArray(),
                        ["metadata"] = new JsonObject(),
                        ["children"] = new JsonArray(Clip(manifest, layer.Key, [.. layer], rate)),
                    }
            );
        }

        var timeline = new JsonObject
        {
            ["OTIO_SCHEMA"] = "Timeline.1",
            ["name"] = manifest.Name,
            ["global_start_time"] = Time(manifest.Frames.First, rate),
            ["metadata"] = new JsonObject(),
            ["tracks"] = new JsonObject
            {
                ["OTIO_SCHEMA"] = "Stack.1",
                ["name"] = "tracks",
                ["source_range"] = null,
                ["effects"] = new JsonArray(),
                ["markers"] = new JsonArray(),
                ["metadata"] = new JsonObject(),
                ["children"] = tracks,
            },
        };
        return timeline.ToJsonString(DocumentJson.Form) + "\n";
    }

    private static JsonObject Clip(CrateManifest manifest, string layer, CratePass[] passes, double rate)
    {
        var references = new JsonObject();
        foreach (CratePass pass in passes)
        {
            references[pass.Pass] = Reference(pass, rate);
        }

        CratePass lead = passes.FirstOrDefault(p => p.Place is not null) ?? passes[0];
        FrameSet all = manifest.Frames;
        return new JsonObject
        {
            ["OTIO_SCHEMA"] = "Clip.2",
            ["name"] = layer,
            ["source_range"] = Range(all.First, all.Last - all.First + 1, rate),
            ["effects"] = new JsonArray(),
            ["markers"] = new JsonArray(),
            ["metadata"] = new JsonObject(),
            ["active_media_reference_key"] = lead.Pass,
            ["media_references"] = references,
        };
    }

    private static JsonObject Reference(CratePass pass, double rate)
    {
        var name = FrameName.Read(pass.Files);
        int slash = name.Prefix.LastIndexOf('/') + 1;
        var reference = new JsonObject
        {
            ["OTIO_SCHEMA"] = name.Padding == 0 ? "ExternalReference.1" : "ImageSequenceReference.1",
            ["name"] = pass.TradeName,
            ["available_range"] = Range(pass.Frames.First, pass.Frames.Last - pass.Frames.First + 1, rate),
            ["metadata"] = new JsonObject(),
        };
        if (name.Padding == 0)
        {
            reference["target_url"] = pass.Files;
            return reference;
        }

        reference["target_url_base"] = name.Prefix[..slash];
        reference["name_prefix"] = name.Prefix[slash..];
        reference["name_suffix"] = name.Suffix;
        reference["start_frame"] = pass.Frames.First;
        reference["frame_step"] = pass.Frames.Runs.Length == 1 && pass.Frames.LongCount > 1 ? pass.Frames.Runs[0].Step : 1;
        reference["rate"] = rate;
        reference["frame_zero_padding"] = name.Padding;
        reference["missing_frame_policy"] = "error";
        return reference;
    }

    private static JsonObject Time(double value, double rate) =>
        new()
        {
            ["OTIO_SCHEMA"] = "RationalTime.1",
            ["rate"] = rate,
            ["value"] = value,
        };

    private static JsonObject Range(double start, double frames, double rate) =>
        new()
        {
            ["OTIO_SCHEMA"] = "TimeRange.1",
            ["start_time"] = Time(start, rate),
            ["duration"] = Time(frames, rate),
        };
}

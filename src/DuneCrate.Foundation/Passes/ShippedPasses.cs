using System.Collections.Immutable;
using static DuneCrate.Foundation.Passes.PassKind;

namespace DuneCrate.Foundation.Passes;

/// <summary>
/// The passes that ship, in the order people expect. Every value is common practice of the trade. To add a pass, add an entry here and a
/// line to <c>ShippedPassesTests</c>; nothing else has to know its key.
/// </summary>
internal static class ShippedPasses
{
    private const string SceneUnits = "scene units";

    /// <summary>The entries.</summary>
    public static readonly ImmutableArray<PassDefinition> All =
    [
        .. Pictures(),
        .. Lights(),
        .. CoarseLights(),
        .. Factors(),
        .. Values(),
        .. Ids(),
    ];

    private static IEnumerable<PassDefinition> Pictures() =>
        [
            Pass(Combined, "beauty", "beauty", "rgba master main") with
            {
                Prefix = "",
                Remark = "The lead pass of a layer unless another is named.",
                ReceiverRemark =
                    "The finished picture of its layer: lay it over what stands behind, or replace it by the sum of its light passes.",
            },
            Pass(Mask, "alpha", "alpha", "a coverage") with
            {
                Prefix = "",
                Channels = ["A"],
                ReceiverRemark = "Coverage of the layer: 1 where it is solid. Use it as a mask; it is never seen.",
            },
        ];

    private static IEnumerable<PassDefinition> Lights() =>
        [
            Pass(Light, "diffuse", "diffuse", "diff") with
            {
                Family = PassFamily.Medium,
                PartOf = ["direct_light", "indirect_light"],
                Remark = "Direct and indirect together.",
                ReceiverRemark = "Light of matt surfaces, direct and bounced; add it to the other light passes.",
            },
            Pass(Light, "direct_diffuse", "direct diffuse", "diffuse_direct diff_dir") with
            {
                Family = PassFamily.Fine,
                PartOf = ["diffuse", "direct_light"],
                Counterpart = "indirect_diffuse",
                ReceiverRemark = "Light that falls straight from lamps on matt surfaces; add it to indirect diffuse.",
            },
            Pass(Light, "indirect_diffuse", "indirect diffuse", "diffuse_indirect diff_ind") with
            {
                Family = PassFamily.Fine,
                PartOf = ["diffuse", "indirect_light"],
                Counterpart = "direct_diffuse",
                ReceiverRemark = "Light that matt surfaces get from one another; add it to direct diffuse.",
            },
            Pass(Light, "specular", "specular", "spec") with
            {
                Family = PassFamily.Medium,
                StandIns = ["direct_light", "reflection"],
                FilledBy = [ItemTrait.Glossy],
                Permission = PassNeed.Essential,
                Remark = "Worth having as soon as any surface is glossy rather than mirror-sharp.",
                ReceiverRemark = "Highlights and blurred reflections; add it. Raise it to make surfaces look wetter.",
            },
            Pass(Light, "direct_specular", "direct specular", "specular_direct spec_dir") with
            {
                Family = PassFamily.Fine,
                PartOf = ["specular", "direct_light"],
                Counterpart = "indirect_specular",
                ReceiverRemark = "Highlights of lamps; add it to indirect specular.",
            },
            Pass(Light, "indirect_specular", "indirect specular", "specular_indirect spec_ind") with
            {
                Family = PassFamily.Fine,
                PartOf = ["specular", "reflection"],
                Counterpart = "direct_specular",
                ReceiverRemark = "What glossy surfaces mirror of their surroundings; add it to direct specular.",
            },
            Pass(Light, "reflection", "reflection", "refl rfl") with
            {
                Family = PassFamily.Medium,
                FilledBy = [ItemTrait.Transparent, ItemTrait.Glossy],
                Permission = PassNeed.Proposed,
                Source = PassSource.Filling,
                UnseenRoles = [ItemRole.ReflectionOnly],
                Measures = PassMeasures.Fireflies | PassMeasures.Coverage | PassMeasures.Glow,
                Remark = "A character's reflection alone also comes this way, with alpha.",
                ReceiverRemark =
                    "What mirror-like surfaces show of their surroundings; add it. With alpha it is the reflection alone, to be laid over.",
            },
            Pass(Light, "refraction", "refraction", "refr transmission trans") with
            {
                FilledBy = [ItemTrait.Transparent],
                Permission = PassNeed.Essential,
                Source = PassSource.Filling,
                UnseenRoles = [],
                Remark = "Everything seen through glass or water is in here, and is missing from the other passes of what lies behind.",
                ReceiverRemark = "Everything seen through glass or water; the other passes do not hold it. Add it.",
            },
            Pass(Light, "scattering", "subsurface scattering", "subsurface subsurface_scattering sss") with
            {
                FilledBy = [ItemTrait.Scattering],
                Permission = PassNeed.Essential,
                Source = PassSource.Filling,
                UnseenRoles = [],
                Remark = "Leave out where no material scatters.",
                ReceiverRemark = "Light that came out of skin, wax or leaves elsewhere than it went in; add it.",
            },
            Pass(Light, "emission", "emission", "emit self_illumination") with
            {
                FilledBy = [ItemTrait.Emits],
                Permission = PassNeed.Essential,
                Source = PassSource.Filling,
                UnseenRoles = [],
                Measures = PassMeasures.Fireflies | PassMeasures.Coverage | PassMeasures.Glow,
                Remark = "Sits above the beauty when used for glow; emitters behind glass are missing from it.",
                ReceiverRemark =
                    "What shines itself. Blur a copy and add it on top for glow; what shines behind glass is in refraction instead.",
            },
            Pass(Light, "caustics", "caustics", "caustic") with
            {
                FilledBy = [ItemTrait.Transparent],
                Remark = "Light focused by glass or water; noisy at few samples.",
                ReceiverRemark = "Light that glass or water has focused on surfaces; add it.",
            },
            Pass(Light, "volume", "volume", "atmosphere fog_light") with
            {
                FilledBy = [ItemTrait.Volume],
                Permission = PassNeed.Essential,
                Source = PassSource.Filling,
                UnseenRoles = [],
                Measures = PassMeasures.Fireflies | PassMeasures.Coverage | PassMeasures.Glow,
                ReceiverRemark = "Light scattered by fog, smoke or murky water on its way to the camera; add it.",
            },
            Pass(Light, "coat", "coat", "clearcoat") with
            {
                ReceiverRemark = "Highlights of a clear coat over other surfaces; add it.",
            },
        ];

    private static IEnumerable<PassDefinition> CoarseLights() =>
        [
            Pass(Light, "direct_light", "direct light", "direct lighting light") with
            {
                Family = PassFamily.Coarse,
                Remark = "Coarse family: direct_light + indirect_light + reflection + refraction + specular + emission.",
                ReceiverRemark = "All light straight from lamps; add it to indirect light.",
            },
            Pass(Light, "indirect_light", "indirect light", "indirect gi global_illumination") with
            {
                Family = PassFamily.Coarse,
                ReceiverRemark = "All bounced light; add it to direct light.",
            },
            Pass(Light, "background", "background", "bg env environment sky") with
            {
                Remark = "What the camera sees where it sees no surface.",
                ReceiverRemark = "What the camera sees where it sees no surface; add it, or leave it out to put something else there.",
            },
            Pass(Light, "light_group.*", "light group", "lg") with
            {
                Family = PassFamily.LightGroups,
                Remark = "One per lamp or set of lamps; they sum to the beauty among themselves.",
                ReceiverRemark = "The share of one lamp or set of lamps. All groups sum to the beauty; gain one to turn that lamp up.",
            },
        ];

    private static IEnumerable<PassDefinition> Factors() =>
        [
            Pass(Factor, "albedo", "flat colour", "flat_colour diffuse_colour") with
            {
                Range = "0..1",
                Family = PassFamily.Factored,
                Counterpart = "irradiance",
                Remark = "Albedo × irradiance = diffuse.",
                ReceiverRemark = "Colour of surfaces without light. Times irradiance it is the diffuse light.",
            },
            Pass(Factor, "irradiance", "irradiance", "raw_light unshaded") with
            {
                Family = PassFamily.Factored,
                PartOf = ["diffuse", "direct_diffuse", "indirect_diffuse", "direct_light", "indirect_light"],
                Counterpart = "albedo",
                ReceiverRemark = "Light on surfaces without their colour. Grade it and multiply it by albedo.",
            },
            Pass(Modulate, "ao", "ambient occlusion", "occ occlusion ambient_occlusion") with
            {
                SpoiltBy = [ItemTrait.Transparent, ItemTrait.CutOut],
                Remark =
                    "White background, no alpha of its own; transparent and cut-out objects darken it wrongly; render it with "
                    + "global illumination off.",
                ReceiverRemark = "White where nothing is near: multiply it over the beauty of its layer, at part strength.",
            },
            Pass(Modulate, "shadow", "shadow", "shd shadow_cast") with
            {
                Place = StackPlace.Below,
                Source = PassSource.Casting,
                UnseenRoles = [ItemRole.ShadowOnly],
                Remark = "White where unshadowed; lies below the character that casts it.",
                ReceiverRemark = "White where no shadow falls: multiply it over what receives it, below the layer that casts it.",
            },
        ];

    private static IEnumerable<PassDefinition> Values() =>
        [
            Pass(Data, "depth", "depth", "z zdepth z_depth") with
            {
                Prefix = "",
                Channels = ["Z"],
                LeastType = ChannelType.Float,
                Range = "> 0, scene units from the camera",
                Unit = SceneUnits,
                Measures = PassMeasures.Depth,
                Remark = "Half runs out of steps; a filtered edge is a distance where nothing is.",
                ReceiverRemark = "Distance from the camera in scene units, for focus and fog. Read it without colour transform or filter.",
            },
            Pass(Data, "normal", "normal", "n normals") with
            {
                Channels = ["X", "Y", "Z"],
                Range = "unit length",
                Measures = PassMeasures.Normal,
                Remark = "World or camera space must be said.",
                ReceiverRemark = "Direction of surfaces, −1 to 1 on each axis, for relighting. Ask in which space before you use it.",
            },
            Pass(Data, "position", "world position", "p pos point") with
            {
                Channels = ["X", "Y", "Z"],
                LeastType = ChannelType.Float,
                Unit = SceneUnits,
                ReceiverRemark = "Place of surfaces in the scene, in scene units, for masks in space.",
            },
            Pass(Data, "thickness", "thickness", "thick") with
            {
                Channels = ["Y"],
                Range = "≥ 0, scene units",
                Unit = SceneUnits,
                Remark = "How much material a ray crosses.",
                ReceiverRemark =
                    "How much material lies behind the surface, in scene units; drives the density of glass, water and leaves.",
            },
            Pass(Data, "uv", "texture coordinates", "st") with
            {
                Channels = ["U", "V"],
                LeastType = ChannelType.Float,
                Range = "0..1 (tiles: beyond)",
                Measures = PassMeasures.TextureCoordinates,
                Remark = "Half cannot address a 4K texture.",
                ReceiverRemark = "Texture coordinates of surfaces, to put another picture on them. Read without filter.",
            },
            Pass(Data, "motion", "motion vectors", "velocity mv vector") with
            {
                Channels = ["X", "Y"],
                Range = "pixels per frame",
                Unit = "pixels per frame",
                FilledBy = [ItemTrait.Animated],
                Permission = PassNeed.Proposed,
                Measures = PassMeasures.Motion,
                Remark = "With it, blur must not also be baked into the beauty.",
                ReceiverRemark = "Movement in pixels per frame, for blur that is not in the beauty.",
            },
        ];

    private static IEnumerable<PassDefinition> Ids() =>
        [
            Pass(Identity, "object_id", "object id", "oid") with
            {
                Channels = ["Y"],
                UsualType = ChannelType.UInt,
                Range = "whole numbers from the plan",
                Measures = PassMeasures.ObjectIds,
                Source = PassSource.Identified,
                Remark = "The number on the object and the number asked of the pass must agree.",
                ReceiverRemark = "A whole number for each object; select by equality. Soft edges belong to one object only.",
            },
            Pass(Identity, "material_id", "material id", "mid matid") with
            {
                Range = "one flat colour per material",
                Measures = PassMeasures.MaterialColours,
                Remark = "Two materials never share a colour.",
                ReceiverRemark = "A flat colour for each material; select by colour.",
            },
            Pass(Mask, "matte.*", "matte", "mask rgb_matte") with
            {
                LeastType = ChannelType.UInt8,
                Source = PassSource.Masked,
                Remark = "Objects that pass in front must be holdouts or the mask is wrong.",
                ReceiverRemark = "A mask in each channel: 1 on the object, soft at its edge. It drives an operation and is not seen.",
            },
            Pass(Identity, "cryptomatte.*", "Cryptomatte", "crypto") with
            {
                Channels = ["00.R", "00.G", "00.B", "00.A", "01.R", "01.G", "01.B", "01.A"],
                Prefix = "Crypto{Name}",
                LeastType = ChannelType.Float,
                Range = "ids are hash bits, coverage 0..1",
                Measures = PassMeasures.Cryptomatte,
                Remark = "Cryptomatte specification 1.2: 32-bit float only, lossless only, manifest in the header.",
                ReceiverRemark =
                    "Ids and coverage of every object by name, with soft edges; pick in a picture. Never resize or convert it.",
            },
            Pass(Look, "wireframe", "wireframe", "wire") with
            {
                ReceiverRemark = "For showing only; lay it over.",
            },
        ];

    private static PassDefinition Pass(PassKind kind, string key, string tradeName, string aliases) =>
        PassDefinition.Create(kind, key, tradeName) with
        {
            Aliases = [.. aliases.Split(' ')],
        };
}

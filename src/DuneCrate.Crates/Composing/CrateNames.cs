using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Crates.Recipes;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Composing;

/// <summary>The names of sequences in a crate: by a layout, or by the template of a recipe.</summary>
internal sealed class CrateNames(Plan plan, string layout, CrateRecipe recipe)
{
    private readonly HashSet<string> _taken = new(StringComparer.OrdinalIgnoreCase);
    private readonly NameTemplate? _template =
        recipe.Layout is { } text && NameTemplate.TryParse(text, out NameTemplate? template, out _, CrateRecipe.Tokens) ? template : null;

    /// <summary>Short name and name of a sequence.</summary>
    /// <exception cref="CrateRefusedException">It would lie outside the crate, or its frames would have one name.</exception>
    public (string Short, FrameName Name) Of(ImmutableArray<(CratePiece Piece, ImmutableArray<PassPlan> Passes)> members)
    {
        PlannedOutput output = members[0].Piece.Output;
        PassPlan[] passes = [.. members.SelectMany(m => m.Passes)];
        string group = GroupOf(output, passes),
            extension = Extension(output);
        int padding = output.Name.Padding == 0 ? 0 : recipe.Padding ?? output.Name.Padding;
        if (_template is null)
        {
            string unique = Unique(ShortName(output, passes), group);
            return (unique, new FrameName($"{group}/{unique}/{unique}{(padding == 0 ? "" : ".")}", extension, padding));
        }

        string shortName = ShortName(output, passes);
        var values = new Dictionary<string, string>
        {
            ["show"] = plan.Show.Code,
            ["shot"] = plan.Shot.Code,
            ["layer"] = output.Layer.Name,
            ["group"] = group,
            ["short"] = shortName,
            ["pass"] = passes.Length == 1 ? PassPlan.WordOf(passes[0].Pass) : shortName,
            ["version"] = plan.Shot.Version ?? VersionStyle.Write(plan.Show.VersionStyle, 1),
        };
        FrameName name = _template.Fill(values, padding);
        string prefix = padding == 0 && _template.HasFrame ? name.Prefix.TrimEnd('.', '_', '-') : name.Prefix,
            suffix = name.Suffix.EndsWith(extension, StringComparison.OrdinalIgnoreCase) ? name.Suffix : name.Suffix + extension;
        if (!_template.HasFrame)
        {
            int files = members.Max(m => m.Piece.Files.Count);
            prefix = prefix.EndsWith(extension, StringComparison.OrdinalIgnoreCase) ? prefix[..^extension.Length] : prefix;
            if (files > 1)
            {
                throw new CrateRefusedException(
                    $"The recipe's layout has no {{frame}}, and {output.Key} has {files} frames, which cannot have one name. Add {{frame}}."
                );
            }
        }

        name = new FrameName(prefix, suffix, padding == 0 || !_template.HasFrame ? 0 : padding);
        if (IsReserved(name.ToString().Split('/')[0]))
        {
            throw new CrateRefusedException(
                $"The recipe's layout makes {name} of {output.Key}, and a crate keeps a document of its own under "
                    + $"that name. Begin it with another folder."
            );
        }

        return (StoragePath.Problem(name.ToString()) ?? NameTemplate.CharacterProblem(name.ToString())) is { } wrong
            ? throw new CrateRefusedException($"The recipe's layout makes {name} of {output.Key}, which {wrong.TrimEnd('.')}.")
            : (shortName, name);
    }

    /// <summary>A folder's name, or another where a crate keeps a document of its own under it.</summary>
    private static string NotReserved(string folder) => IsReserved(folder) ? folder + "_" : folder;

    private static bool IsReserved(string name) =>
        new[]
        {
            ChecksumList.FileName,
            ChecksumList.CarriedFileName,
            CrateManifest.FileName,
            CrateSignature.FileName,
            CrateSignature.KeyFileName,
            CrateJournal.FileName,
            PackingSlip.FileName,
        }.Contains(name, StringComparer.OrdinalIgnoreCase);

    /// <summary>Refuses names that several sequences would have, also where letters differ in case alone.</summary>
    /// <exception cref="CrateRefusedException">There are such.</exception>
    public void CheckClashes(ImmutableArray<CrateSequence> sequences)
    {
        IGrouping<string, CrateSequence>? clash = sequences
            .GroupBy(s => s.Name.ToString(), StringComparer.OrdinalIgnoreCase)
            .FirstOrDefault(g => g.Skip(1).Any());
        if (clash is not null)
        {
            string[] who = [.. clash.Select(s => $"{s.Layer.Name} {string.Join('+', s.Passes.Select(p => p.Plan.Pass))}")];
            throw new CrateRefusedException(
                $"{who[0]} and {who[1]} would both be called {clash.Key}. Use {{layer}}, {{pass}} or {{short}} in the recipe's layout, or "
                    + "give them different short names."
            );
        }
    }

    private string GroupOf(PlannedOutput output, PassPlan[] passes) =>
        recipe.Groups?.TryGetValue(output.Layer.Name, out string? named) == true ? named
        : recipe.Groups is not null || _template is not null ? output.Layer.Group ?? output.Layer.Name
        : NotReserved(CrateLayouts.Group(layout, output, passes));

    private string ShortName(PlannedOutput output, PassPlan[] passes)
    {
        string layer = output.Layer.Name;
        string Word(PassPlan pass) => recipe.Short?.TryGetValue(pass.Pass, out string? word) == true ? word : PassPlan.WordOf(pass.Pass);
        bool isWhole = passes.Length > 1 && passes.Length == output.Layer.Passes.Count(p => recipe.Takes(p.Pass));
        return recipe.Files is RecipeFiles.PerLayer or RecipeFiles.Parts && isWhole ? layer
            : passes.Length == 1 && (passes[0].Pass != PassKeys.Beauty || recipe.Short?.ContainsKey(PassKeys.Beauty) == true)
                ? $"{layer}_{Word(passes[0])}"
            : passes.Any(p => p.Pass == PassKeys.Beauty) ? layer
            : passes.All(p => output.Plan.Catalogue.Find(p.Pass)?.IsExact == true) ? $"{layer}_data"
            : $"{layer}_passes";
    }

    private static string Extension(PlannedOutput output)
    {
        string whole = output.Name.Prefix + output.Name.Suffix;
        return whole[whole.LastIndexOf('.')..];
    }

    private string Unique(string name, string group)
    {
        string tried = name;
        for (int n = 2; !_taken.Add($"{group}/{tried}"); n++)
        {
            tried = $"{name}_{n.ToString(CultureInfo.InvariantCulture)}";
        }

        return tried;
    }
}

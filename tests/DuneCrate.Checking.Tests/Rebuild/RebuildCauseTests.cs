using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Reports;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Rebuild;

/// <summary>The cause of a residual, planted with oiiotool in beauties that it summed.</summary>
public sealed class RebuildCauseTests : IDisposable
{
    private const int Width = 64,
        Height = 48;

    private readonly TempFolder _folder = new();

    private static readonly string[] Terms = ["direct", "indirect", "specular"];

    private static readonly RebuildRecipe Recipe = new(
        ["R", "G", "B"],
        [
            .. Terms.Select(t => new RebuildRecipeTerm(
                t,
                [
                    [$"{t}.R", $"{t}.G", $"{t}.B"],
                ]
            )),
        ]
    );

    private string Noise(string name, string range, int seed)
    {
        string file = _folder[name + ".exr"];
        Tool.Picture(file, "--create", $"{Width}x{Height}", "3", $"--noise:type=uniform:{range}:seed={seed}", "-d", "float");
        return file;
    }

    private string Oiio(string name, params string[] arguments)
    {
        string file = _folder[name + ".exr"];
        Tool.Oiio([.. arguments, "-d", "float", "-o", file]);
        return file;
    }

    private string[] Lights =>
        [Noise("direct", "min=0:max=1", 1), Noise("indirect", "min=0:max=0.3", 2), Noise("specular", "min=0:max=0.6", 3)];

    private static float[][] Read(string file)
    {
        using PictureLines lines = PictureLines.Open(Disk.File(file), "exr", ["R", "G", "B"], ReadLimits.Default, null);
        PicturePlanes planes = PicturePlanes.Read(lines, 1, true, null, default);
        return [planes.Planes["R"], planes.Planes["G"], planes.Planes["B"]];
    }

    private static RebuildFacts Measure(string beauty, params string[] terms)
    {
        float[][] whole = Read(beauty);
        float[][][] lights = [.. terms.Select(Read)];
        var measure = new RebuildMeasure(Recipe, Width);
        for (int y = 0; y < Height; y++)
        {
            float[] Line(float[] plane) => plane.AsSpan(y * Width, Width).ToArray();
            measure.AddLine([.. whole.Select(Line)], [.. lights.Select(t => t.Select(Line).ToArray())], 0, y);
        }

        return measure.Finish();
    }

    [Fact]
    public void A_sum_that_holds_has_no_cause()
    {
        string[] lights = Lights;
        string sum = Oiio("sum", lights[0], lights[1], "--add", lights[2], "--add");
        Assert.Null(Measure(sum, lights).Cause);
    }

    [Theory]
    [InlineData(0.7, 1.4286, RebuildCauseKind.ScaledTerm)]
    [InlineData(1.5, 0.6667, RebuildCauseKind.ScaledTerm)]
    [InlineData(2, 0.5, RebuildCauseKind.DoubledTerm)]
    public void A_scaled_term_is_named_with_the_gain_that_mends_it(double at, double gain, RebuildCauseKind kind)
    {
        string[] lights = Lights;
        string sum = Oiio("sum", lights[0], lights[1], "--add", lights[2], "--add"),
            scaled = Oiio("scaled", lights[2], "--mulc", at.ToString(System.Globalization.CultureInfo.InvariantCulture));
        RebuildCause cause = Measure(sum, lights[0], lights[1], scaled).Cause!;
        Assert.Equal((kind, "specular"), (cause.Kind, cause.Term));
        Assert.Equal(gain, cause.Gain!.Value, 2);
        Assert.InRange(cause.Explains, 0.999, 1);
    }

    [Fact]
    public void Light_that_is_counted_twice_is_named()
    {
        string[] lights = Lights;
        string sum = Oiio("sum", lights[0], lights[1], "--add");
        RebuildCause cause = Measure(sum, lights).Cause!;
        Assert.Equal((RebuildCauseKind.DoubledTerm, "specular"), (cause.Kind, cause.Term));
        Assert.Equal(0, cause.Gain!.Value, 2);
    }

    [Fact]
    public void A_black_term_a_missing_pass_a_curve_and_a_black_beauty_are_told_apart()
    {
        string[] lights = Lights;
        string sum = Oiio("sum", lights[0], lights[1], "--add", lights[2], "--add"),
            black = Oiio("black", "--create", $"{Width}x{Height}", "3"),
            other = Oiio("other", sum, Noise("lamp", "min=0:max=0.4", 9), "--add"),
            shown = Oiio("shown", sum, "--tocolorspace", "sRGB");
        RebuildCause missing = Measure(sum, lights[0], black, lights[2]).Cause!;
        Assert.Equal((RebuildCauseKind.MissingTerm, "indirect"), (missing.Kind, missing.Term));
        Assert.Equal(RebuildCauseKind.MissingPass, Measure(other, lights).Cause!.Kind);
        RebuildCause curve = Measure(shown, lights).Cause!;
        Assert.Equal(RebuildCauseKind.ViewTransform, curve.Kind);
        Assert.InRange(curve.Explains, 0.98, 1);
        Assert.Equal(RebuildCauseKind.BeautyBlack, Measure(black, lights).Cause!.Kind);
    }

    /// <summary>Two albedos in each other's place: oiiotool multiplies them rightly, the file holds them swapped.</summary>
    [Fact]
    public void Products_that_have_each_others_factors_are_named()
    {
        string[] files =
        [
            Noise("albedo1", "min=0:max=1", 1),
            Noise("light1", "min=0:max=3", 2),
            Noise("albedo2", "min=0:max=0.5", 3),
            Noise("light2", "min=0:max=2", 4),
        ];
        string[] names = ["a", "b", "c", "d"];
        string sum = Oiio("sum", files[0], files[1], "--mul", files[2], files[3], "--mul", "--add");
        RebuildCause? Cause(params string[] order)
        {
            string file = Oiio(
                "all",
                [
                    sum,
                    .. order.SelectMany(f => new[] { f, "--chappend" }),
                    "--chnames",
                    string.Join(',', names.Prepend("").SelectMany(Channels)),
                ]
            );
            var recipe = new RebuildRecipe(
                [.. Channels("")],
                [
                    new RebuildRecipeTerm(
                        "a × b",
                        [
                            [.. Channels("a")],
                            [.. Channels("b")],
                        ]
                    ),
                    new RebuildRecipeTerm(
                        "c × d",
                        [
                            [.. Channels("c")],
                            [.. Channels("d")],
                        ]
                    ),
                ]
            );
            using RebuildLines lines = RebuildLines.Open(recipe, [(Disk.File(file), [.. recipe.Channels], null)], ReadLimits.Default);
            return RebuildPixels.Compute(recipe, lines, 1, [], default).Facts.Cause;
        }

        Assert.Null(Cause(files));
        RebuildCause swapped = Cause(files[2], files[1], files[0], files[3])!;
        Assert.Equal((RebuildCauseKind.SwappedTerms, "a × b and c × d"), (swapped.Kind, swapped.Term));
        Assert.InRange(swapped.Explains, 0.999, 1);
    }

    private static IEnumerable<string> Channels(string pass) => "RGB".Select(c => pass.Length > 0 ? $"{pass}.{c}" : $"{c}");

    /// <summary>
    /// NIST Statistical Reference Datasets, linear regression, Norris: y = −0.262323073774029 + 1.00211681802045 x. The points are
    /// recalled from memory; the certified values tell that they are right.
    /// </summary>
    [Fact]
    public void Gains_are_those_of_a_published_example()
    {
        float[] y =

            [
                .. "0.1 338.8 118.1 888.0 9.2 228.1 668.5 998.5 449.1 778.9 559.2 0.3 0.1 778.1 668.8 339.3 448.9 10.8"
                    .Split(' ')
                    .Select(Number),
                .. "557.7 228.3 998.0 888.8 119.6 0.3 0.6 557.6 339.3 888.0 998.5 778.9 10.2 117.6 228.9 668.4 449.2 0.2"
                    .Split(' ')
                    .Select(Number),
            ],
            x =

            [
                .. "0.2 337.4 118.2 884.6 10.1 226.5 666.3 996.3 448.6 777.0 558.2 0.4 0.6 775.5 666.9 338.0 447.5 11.6"
                    .Split(' ')
                    .Select(Number),
                .. "556.0 228.1 995.8 887.6 120.2 0.3 0.3 556.8 339.1 887.2 999.0 779.0 11.1 118.3 229.2 669.1 448.9 0.5"
                    .Split(' ')
                    .Select(Number),
            ],
            one = new float[x.Length];
        Array.Fill(one, 1);
        RebuildRecipe line = Recipe with { Terms = Recipe.Terms[..2] };
        var fit = new RebuildFit(line);
        fit.AddLine(
            y,
            [
                [one],
                [x],
            ],
            0,
            [.. y.Zip(x, (b, t) => b - t - 1)]
        );
        double[] gains = [.. fit.Terms().Select(t => t.Gain)];
        Assert.Equal(-0.262323073774029, gains[0], 2); // Sums of floats.
        Assert.Equal(1.00211681802045, gains[1], 4);
    }

    /// <summary>By hand: residual (3, 0), terms (3, 0) and (0, 4); leaving one out leaves (6, 0) or (3, 4), twice and 5/3 of it.</summary>
    [Fact]
    public void What_leaving_a_term_out_does_is_the_length_of_what_is_left()
    {
        var fit = new RebuildFit(Recipe with { Terms = Recipe.Terms[..2] });
        fit.AddLine(
            [6, 4],
            [
                [
                    [3, 0],
                ],
                [
                    [0, 4],
                ],
            ],
            0,
            [3, 0]
        );
        FittedTerm[] terms = fit.Terms();
        Assert.Equal(2, terms[0].LeftOut, 9);
        Assert.Equal(5 / 3.0, terms[1].LeftOut, 9);
    }

    /// <summary>A beauty that is a curve of straight pieces over the sum: what a view transform makes of it leaves nothing.</summary>
    [Fact]
    public void A_curve_that_is_straight_between_the_eighths_of_an_octave_explains_everything()
    {
        float[] sum = [.. Enumerable.Range(0, 7000).Select(i => 1 + i / 7000f)],
            beauty = [.. sum.Select(s => MathF.Floor(8 * s) / 8 + 1.3f * (s - MathF.Floor(8 * s) / 8))];
        var fit = new RebuildFit(Recipe with { Terms = Recipe.Terms[..1] });
        fit.AddLine(
            beauty,
            [
                [sum],
            ],
            0,
            [.. beauty.Zip(sum, (b, s) => b - s)]
        );
        RebuildCause cause = fit.Finish(isBeautyBlack: false)!;
        Assert.Equal(RebuildCauseKind.ViewTransform, cause.Kind);
        Assert.InRange(cause.Explains, 0.999, 1);
    }

    private static float Number(string text) => float.Parse(text, System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The stand-in's planted fault is named in the report, and clean frames sum.</summary>
    [Fact]
    public void The_report_tells_the_cause_of_each_run_of_frames()
    {
        using var shot = new ShotFixture("unlit:sub:1002");
        (_, CheckReport report) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels);
        RebuildEntry[] sub = [.. report.Rebuild!.Value.Where(r => r.Layer == "sub")];
        Assert.Contains(sub, r => r.Frames.Contains(1001) && r.Cause.Kind == RebuildCauseKind.Sums);
        RebuildEntry off = Assert.Single(sub, r => r.Cause.Kind != RebuildCauseKind.Sums);
        Assert.Equal(("1002", RebuildCauseKind.MissingTerm), (off.Frames.ToString(), off.Cause.Kind));
        Assert.Contains(off.Cause.Term, shot.Plan.FindLayer("sub")!.Rebuild.Select(t => t.ToString()));
        Assert.Contains("\"kind\": \"missing-term\"", report.Write());
        Assert.All(report.Rebuild!.Value.Where(r => r.Layer != "sub"), r => Assert.Equal(RebuildCauseKind.Sums, r.Cause.Kind));
    }

    public void Dispose() => _folder.Dispose();
}

using System.Globalization;
using DuneCrate.Bench;

CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args is ["make", string to, string count, ..])
{
    BenchFrames.Write(BenchFrames.Plan(int.Parse(count)), to, hasGrain: args.Contains("grain"));
    return;
}

if (args is ["inflate", string folder])
{
    PixelBench.Inflate(folder);
    return;
}

if (args is ["trial", ..])
{
    // bench/run trial [WORDS] [--quick]: a tenth of the tries with --quick.
    string trial = Directory.CreateTempSubdirectory("dune-crate-trial-").FullName;
    try
    {
        bool held = await DuneCrate.Bench.Trial.TrialRun.RunAsync(
            trial,
            [.. args.Skip(1).Where(a => a != "--quick")],
            args.Contains("--quick") ? 10 : 1
        );
        Environment.ExitCode = held ? 0 : 1;
    }
    finally
    {
        Directory.Delete(trial, recursive: true);
    }

    return;
}

// bench/run all [--record], or with names of measures: what is held against others and against the last recorded run.
bool isAll = args.Contains("all"),
    isRecorded = args.Contains("--record");
if (isAll)
{
    args = ["headers", "pixels", "crate", "machines", .. args];
}

string work = Directory.CreateTempSubdirectory("dune-crate-bench-").FullName;
try
{
    if (args.Length == 0 || args.Contains("headers"))
    {
        HeaderBench.Run(work);
    }

    if (args.Length == 0 || args.Contains("sheet"))
    {
        await SheetBench.RunAsync(work);
    }

    if (args.Length == 0 || args.Contains("map"))
    {
        await MapBench.RunAsync(work);
    }

    if (args.Length == 0 || args.Contains("pages"))
    {
        await PagesBench.RunAsync(work);
    }

    if (args.Length == 0 || args.Contains("people"))
    {
        await PeopleBench.RunAsync(work);
    }

    if (args.Length == 0 || args.Contains("look"))
    {
        await LookBench.RunAsync(work);
    }

    if (args.Length == 0 || args.Contains("stack"))
    {
        StackBench.Run(work);
    }

    // Or one conversion alone: bench/run crate=zips.
    if (args.Length == 0 || args.Any(a => a.Split('=')[0] == "crate"))
    {
        CrateBench.Run(work, args.FirstOrDefault(a => a.StartsWith("crate=", StringComparison.Ordinal))?["crate=".Length..] ?? "");
    }

    if (args.Length == 0 || args.Contains("levels"))
    {
        LevelsBench.Run(work);
    }

    if (args.Length == 0 || args.Contains("compose"))
    {
        CrateBench.Compose(work);
    }

    if (args.Length == 0 || args.Contains("machines"))
    {
        MachinesBench.Run(work);
    }

    if (args is ["scale", ..])
    {
        // bench/run scale [FILES]: not among those that run without a name, since it takes minutes.
        await MachinesBench.ScaleAsync(work, args.Length > 1 ? int.Parse(args[1]) : 0);
    }

    if (args.Length == 0 || args.Contains("report"))
    {
        MapBench.Judge(work);
    }

    if (args.Length == 0 || args.Contains("pixels"))
    {
        PixelBench.Run(work);
    }

    if (isAll || isRecorded)
    {
        Ledger.Print(isRecorded);
    }
}
finally
{
    Directory.Delete(work, recursive: true);
}

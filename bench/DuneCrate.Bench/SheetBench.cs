using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using OpenQA.Selenium.Chrome;

namespace DuneCrate.Bench;

/// <summary>The pass sheet with 12 layers × 30 passes in the browser, from the key to the next paint. Goal: under 50 ms.</summary>
internal static class SheetBench
{
    private const int Layers = 12,
        Keys = 60;

    /// <summary>Notes for every trusted key the time from its event to after the paint that follows it.</summary>
    private const string Watch = """
        window.waits = [];
        addEventListener('keydown', event => {
          const begun = event.timeStamp;
          requestAnimationFrame(() => {
            const channel = new MessageChannel();
            channel.port1.onmessage = () => window.waits.push(performance.now() - begun);
            channel.port2.postMessage(0);
          });
        }, true);
        """;

    public static async Task RunAsync(string work)
    {
        Plan plan = Large();
        using BenchServer server = await BenchServer.StartAsync(work, plan);
        using ChromeDriver driver = BenchBrowser.Start(work);
        try
        {
            driver.Navigate().GoToUrl($"{server.Address}/KELP/{plan.Shot.Code}/plan");
            driver.ExecuteScript(Watch + "document.querySelector(\"td[aria-label^='beauty of layer_01']\").focus();");
            Console.WriteLine($"Pass sheet, {Layers} layers × {plan.Layers[0].AllPasses.Count()} passes, key to painted in Chromium");
            Say(
                "arrow keys",
                driver,
                [
                    OpenQA.Selenium.Keys.ArrowDown,
                    OpenQA.Selenium.Keys.ArrowRight,
                    OpenQA.Selenium.Keys.ArrowDown,
                    OpenQA.Selenium.Keys.ArrowLeft,
                ]
            );
            Say("Space: plan, take out", driver, [OpenQA.Selenium.Keys.Space, OpenQA.Selenium.Keys.ArrowDown]);
        }
        finally
        {
            driver.Quit();
        }
    }

    private static void Say(string what, ChromeDriver driver, string[] keys)
    {
        driver.ExecuteScript("window.waits.length = 0;");
        for (int i = 0; i < Keys; i++)
        {
            new OpenQA.Selenium.Interactions.Actions(driver).SendKeys(keys[i % keys.Length]).Perform();
        }

        double[] waits =
        [
            .. ((System.Collections.ObjectModel.ReadOnlyCollection<object>)driver.ExecuteScript("return window.waits")!)
                .Select(Convert.ToDouble)
                .Order(),
        ];
        Console.WriteLine(
            $"  {what, -24} median {waits[waits.Length / 2], 5:0.0} ms   95 % {waits[waits.Length * 95 / 100], 5:0.0} ms   worst "
                + $"{waits[^1], 5:0.0} ms   (goal: under 50)"
        );
    }

    private static Plan Large()
    {
        string[] passes =
        [
            .. (
                "alpha direct_diffuse indirect_diffuse direct_specular indirect_specular reflection refraction scattering emission "
                + "volume coat background albedo irradiance ao shadow depth normal position uv motion object_id material_id wireframe "
                + "matte.a matte.b cryptomatte.object light_group.key light_group.fill"
            ).Split(' '),
        ];
        var plan = new Plan
        {
            Show = new ShowPlan { Code = "KELP", Name = "The Kelp Post" },
            Shot = new ShotPlan
            {
                Code = "KP900",
                Frames = FrameSet.Range(1001, 1240),
                Width = 1920,
                Height = 1080,
                Camera = "cam_main",
            },
        };
        for (int layer = 1; layer <= Layers; layer++)
        {
            plan = new WriteCells([.. passes.Select(p => new CellText($"layer_{layer:00}", p, "x"))]).Apply(
                new AddLayer($"layer_{layer:00}").Apply(plan)
            );
        }

        return plan;
    }
}

using OpenQA.Selenium.Chrome;

namespace DuneCrate.Bench;

/// <summary>Debian's headless Chromium at 1280 × 800, for measuring what a person would feel.</summary>
internal static class BenchBrowser
{
    public static ChromeDriver Start(string work)
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--window-size=1280,800",
            $"--user-data-dir={Path.Combine(work, "profile")}"
        );
        ChromeDriverService service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        service.SuppressInitialDiagnosticInformation = true;
        return new ChromeDriver(service, options, TimeSpan.FromMinutes(3));
    }
}

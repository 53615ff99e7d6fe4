using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.Shots;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Web;
using Microsoft.AspNetCore.Builder;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace DuneCrate.Browser.Tests;

/// <summary>The application with an empty database, and Debian's headless Chromium.</summary>
public class BrowserFixture : IAsyncLifetime
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-browser-").FullName;
    private WebApplication _app = null!;

    public ChromeDriver Driver { get; private set; } = null!;

    public virtual string Address => _app.Urls.First();

    protected IServiceProvider Services => _app.Services;

    /// <summary>What the application runs on.</summary>
    protected virtual ServeOptions Options(string data) =>
        ServeOptions.ForServe(data, 0, "127.0.0.1", [$"renders={Renders}"]).WithoutAccounts();

    public string Renders => Path.Combine(_folder, "renders");

    public string Crates => Path.Combine(_folder, "data", "crates");

    public async ValueTask InitializeAsync()
    {
        Directory.CreateDirectory(Renders);
        _app = DuneCrateApp.Build(Options(Path.Combine(_folder, "data")));
        await _app.StartAsync();
        Driver = Start(Path.Combine(_folder, "profile"));
    }

    private static ChromeDriver Start(string profile)
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
            "--disable-dev-shm-usage",
            "--window-size=1280,900",
            $"--user-data-dir={profile}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        ChromeDriverService service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        service.SuppressInitialDiagnosticInformation = true;
        return new ChromeDriver(service, options, TimeSpan.FromMinutes(2));
    }

    public async ValueTask DisposeAsync()
    {
        Driver.Quit();
        await _app.StopAsync();
        await _app.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
    }

    public void Go(string path) => Driver.Navigate().GoToUrl(Address + path);

    public IWebElement Find(string css) => Until(d => d.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed), css);

    public void Fill(string css, string text) =>
        Until(
            d =>
            {
                IWebElement? field = d.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed);
                field?.Clear();
                field?.SendKeys(text);
                return field;
            },
            css
        );

    /// <summary>The text of the visible element.</summary>
    public string Text(string css) => Until(d => d.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed)?.Text, css);

    /// <summary>Clicks the visible element; one that the page replaces meanwhile is looked for again.</summary>
    public void Click(By by) =>
        Until(
            d =>
            {
                IWebElement? target = d.FindElements(by).FirstOrDefault(e => e.Displayed);
                target?.Click();
                return target;
            },
            by.ToString()
        );

    /// <summary>Presses the visible button or link with this text.</summary>
    public void Press(string text) =>
        Click(By.XPath($"//*[self::button or self::a or self::summary][contains(normalize-space(.), \"{text}\")]"));

    /// <summary>Goes to a station by its stop on the strip.</summary>
    public void Station(string name) => Click(By.CssSelector($".strip a[href*='/{name}?']"));

    /// <summary>Waits for words anywhere on the page, as the browser lays them out: much faster than element by element.</summary>
    public void UntilText(string text) =>
        Until(d => Script<string>("return document.body.innerText").Contains(text, StringComparison.Ordinal) ? d : null, text);

    public T Until<T>(Func<IWebDriver, T?> ready, string what)
        where T : class
    {
        var wait = new WebDriverWait(Driver, TimeSpan.FromSeconds(60)) { PollingInterval = TimeSpan.FromMilliseconds(60), Message = what };
        return wait.Until(d =>
        {
            try
            {
                return ready(d);
            }
            catch (WebDriverException e)
                when (e is StaleElementReferenceException or NoSuchElementException or ElementNotInteractableException
                    || e.Message.Contains("does not belong to the document", StringComparison.Ordinal)
                )
            {
                // The page was replaced between finding and asking; look again.
                return null;
            }
        })!;
    }

    /// <summary>Whether something comes true within a time in which it would have.</summary>
    public bool Comes(Func<bool> condition)
    {
        try
        {
            return new WebDriverWait(Driver, TimeSpan.FromSeconds(1.5)) { PollingInterval = TimeSpan.FromMilliseconds(100) }.Until(_ =>
                condition()
            );
        }
        catch (WebDriverTimeoutException)
        {
            return false;
        }
    }

    public void Keys(params string[] keys)
    {
        foreach (string key in keys)
        {
            new OpenQA.Selenium.Interactions.Actions(Driver).SendKeys(key).Perform();
        }
    }

    /// <summary>Another browser window with cookies of its own, on the same application; the caller quits it.</summary>
    public ChromeDriver Another() => Start(Path.Combine(_folder, $"profile-{Guid.NewGuid():N}"));

    /// <summary>The clipboard of the page, set and read as a spreadsheet would: events with tab-separated text.</summary>
    public string Clipboard(string kind, string text = "") =>
        Script<string>(
            "const data = new DataTransfer(); data.setData('text/plain', arguments[1]); const event = new "
                + "ClipboardEvent(arguments[0], { clipboardData: data, bubbles: true, cancelable: true }); "
                + "document.activeElement.dispatchEvent(event); return data.getData('text/plain');",
            kind,
            text
        );

    public T Script<T>(string script, params object[] arguments) => (T)Driver.ExecuteScript(script, arguments)!;

    /// <summary>A show and a shot with the stand-in's plan, rendered with faults, made over the pages.</summary>
    public void MakeShot(string code, params string[] faults) =>
        MakeShot(StandInPlan.Create(code, FrameSet.Parse("1001-1004"), 64, 36), faults);

    /// <summary>A shot with a plan, rendered with faults and checked, made over the pages.</summary>
    public void MakeShot(Plan plan, params string[] faults)
    {
        string code = plan.Shot.Code;
        Disk.Render(
            plan,
            Path.Combine(Renders, code),
            null,
            [.. faults.Select(f => Fault.TryParse(f, out Fault? fault, out _) ? fault : throw new FormatException(f))]
        );
        PlanShot(plan);
        Go($"/KELP/{code}/receive");
        Fill("#folder", code);
        Press("Take in and check");
        UntilText("checked ");
    }

    /// <summary>A shot with a plan and nothing else, made over the pages.</summary>
    public void PlanShot(Plan plan)
    {
        Go("/");
        if (!Driver.PageSource.Contains("/KELP/new-shot", StringComparison.Ordinal))
        {
            MakeShow();
        }

        Go("/KELP/new-shot");
        Script<object>("document.querySelector('textarea[name=Json]').value = arguments[0]; return null;", PlanDocument.Write(plan));
        Press("Import plan");
        UntilText("Pass sheet");
        UntilText("layers, ");
    }

    public void MakeShow()
    {
        Go("/new-show");
        Fill("#code", "KELP");
        Fill("#name", "The Kelp Post");
        Fill("#width", "64");
        Fill("input[name=Height]", "36");
        Press("Make show");
        UntilText("Plan a shot");
    }

    /// <summary>Waits until a picture of the frame that the address names is drawn.</summary>
    public void UntilPicture(string css) =>
        Until(
            d =>
                Script<bool>(
                    "const p = document.querySelector(arguments[0]), at = new URLSearchParams(location.search).get('frame') ?? ''; "
                        + "return !!p && !p.hidden && !!p.dataset.shown && p.dataset.shown.endsWith(at);",
                    css
                )
                    ? d
                    : null,
            "the picture"
        );
}

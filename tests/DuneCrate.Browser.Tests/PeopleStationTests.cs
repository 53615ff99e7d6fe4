using OpenQA.Selenium;
using OpenQA.Selenium.VirtualAuth;

namespace DuneCrate.Browser.Tests;

/// <summary>
/// People come in and out as they would: the first account, somebody new by a link, a passkey of Chromium's virtual authenticator (W3C Web
/// Authentication Level 3, section 11).
/// </summary>
public class PeopleStationTests(PeopleBrowserFixture browser) : IClassFixture<PeopleBrowserFixture>
{
    private const string Password = "limpet ferry under glass",
        Other = "nine slow otters swim";

    private readonly List<string> _violations = [];

    private void See(string where)
    {
        foreach (string theme in (string[])["light", "dusk"])
        {
            browser.Script<object>("document.documentElement.dataset.theme = arguments[0]; return null;", theme);
            _violations.AddRange(Axe.Violations(browser, $"{where} in {theme}"));
        }
    }

    private void SignOut()
    {
        browser.Press("Sign out");
        browser.Find("#account");
    }

    private void SignIn(string account, string password)
    {
        browser.Fill("#account", account);
        browser.Fill("#password", password + Keys.Enter);
        browser.UntilText("Yard");
    }

    [Fact]
    public void People_come_in_by_code_link_password_and_passkey()
    {
        browser.Go("/");
        See("the first account");
        browser.Fill("#given", browser.Code.ToLowerInvariant());
        browser.Fill("#account", "kit");
        browser.Fill("#name", "Kit Marlow");
        browser.Fill("#password", Password + Keys.Enter);
        browser.UntilText("No show yet");

        browser.Go("/people");
        browser.Fill("#account", "iris");
        browser.Fill("#name", "Iris Holm" + Keys.Enter);
        browser.UntilText("Your password again");
        See("the password again");
        browser.Fill("#password", Password + Keys.Enter);
        browser.UntilText("Add somebody");
        browser.Fill("#account", "iris");
        browser.Fill("#name", "Iris Holm" + Keys.Enter);
        string link = browser.Find("[data-select]").GetAttribute("value")!;
        See("people with a link");
        SignOut();
        See("signing in");

        browser.Driver.Navigate().GoToUrl(link);
        See("setting a password");
        browser.Fill("#password", Other + Keys.Enter);
        browser.UntilText("gives you a role");

        browser.Driver.AddVirtualAuthenticator(
            new VirtualAuthenticatorOptions()
                .SetProtocol(VirtualAuthenticatorOptions.Protocol.CTAP2)
                .SetTransport(VirtualAuthenticatorOptions.Transport.INTERNAL)
                .SetHasResidentKey(true)
                .SetHasUserVerification(true)
                .SetIsUserVerified(true)
        );
        browser.Go("/account");
        browser.Fill("[data-passkey-form] [name=name]", "laptop");
        browser.Press("Make a passkey");
        browser.UntilText("Take out");
        See("an account with a passkey");
        SignOut();
        browser.Press("Use a passkey");
        browser.UntilText("Iris Holm");
        browser.Go("/account");
        browser.Press("Take out");
        browser.Until(d => d.FindElements(By.XPath("//button[.='Take out']")).Count == 0 ? d : null, "the passkey is out");
        SignOut();
        browser.Press("Use a passkey");
        browser.UntilText("not known here");

        browser.Go("/sign-in");
        SignIn("kit", Password);
        browser.Go("/history");
        browser.UntilText("signed in by passkey");
        Assert.True(_violations.Count == 0, string.Join('\n', _violations));
    }
}

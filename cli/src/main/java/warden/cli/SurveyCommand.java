package warden.cli;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.Path;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.aws.survey.AwsAspects;
import warden.core.aws.survey.Permissions;
import warden.core.azure.survey.AzureAspects;
import warden.core.provider.Provider;
import warden.core.survey.Aspects;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.core.survey.SurveyWriter;
import warden.gather.aws.LiveSettings;
import warden.gather.aws.LiveSurvey;
import warden.gather.aws.OrganizationSurvey;
import warden.gather.aws.inventory.Inventory;
import warden.gather.aws.inventory.InventoryReader;
import warden.gather.aws.template.Templates;
import warden.gather.azure.AzureSettings;
import warden.gather.azure.AzureSurvey;
import warden.gather.folder.SavedAnswers;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;
import warden.gather.live.UnfinishedSurvey;
import warden.report.AccountsSummary;
import warden.report.aws.SurveyPolicies;
import warden.report.azure.SurveyRoles;

/** Takes a survey: of a live account, of a folder of saved answers, or of a description. */
final class SurveyCommand implements ProgramCommand {
    private static final Path DEFAULT_FILE = Path.of("survey.ndjson");
    private static final int LARGEST_PORT = 65_535;
    /** So many accounts are under way for each call that may be: while one waits to be let in again, others go on. */
    private static final int SIDE_BY_SIDE = 2;

    private static final Pattern GUID = Pattern.compile("[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}");

    private final OutputOptions options = new OutputOptions();
    private final AsOf asOf = new AsOf();
    private final TemplateOptions templates = new TemplateOptions();
    private final AccountsOptions accounts = new AccountsOptions();
    private @Nullable String host;
    private @Nullable Path folder;
    private boolean script;
    private boolean permissions;
    private String provider = "aws";
    private @Nullable String profile;
    private @Nullable String region;
    private @Nullable String endpoint;
    private @Nullable String subscription;
    private int parallel = 8;
    private boolean resume;
    private boolean force;
    private int objects = 1_000;
    private int details = 200;
    private List<Path> inventories = new ArrayList<>();
    private List<Inventory> held = List.of();
    private final World world;

    SurveyCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe(
                "Take a survey of a live account, read-only, of a folder of saved answers, or of a template or a plan.");
        options.declare(line);
        asOf.declare(line);
        templates.declare(line);
        accounts.declare(line);
        line.text("--host", "HOST", "Follow only this host's chain", value -> host = value);
        line.path(
                "--folder",
                "DIR",
                "Make the survey of saved answers instead of a live account",
                value -> folder = value);
        line.flag(
                "--script",
                "Print a read-only shell script for the official command line that gathers such a folder",
                value -> script = value);
        line.flag(
                "--permissions",
                "Print the policy that a survey needs: complete, and nothing more",
                value -> permissions = value);
        line.text("--provider", "aws|azure", "Whose account it is. Default: aws", value -> provider = value);
        line.text("--profile", "NAME", "Profile of the usual configuration files", value -> profile = value);
        line.text("--region", "NAME", "Region to begin with; those of the buckets are added", value -> region = value);
        line.text("--endpoint", "URL", "Ask there instead of the provider's own endpoints", value -> endpoint = value);
        line.text(
                "--subscription",
                "GUID",
                "Which subscription, with --provider azure. Default: the only one that the credential sees",
                value -> subscription = value);
        line.number("--parallel", "N", "Calls under way at once, 1 to 64. Default: 8", value -> parallel = value);
        line.flag("--resume", "Go on with the file of a survey that was interrupted", value -> resume = value);
        line.flag("--force", "Replace the file if it is there already", value -> force = value);
        line.number("--objects", "N", "Object names to list for each bucket. Default: 1000", value -> objects = value);
        line.number(
                "--object-details",
                "N",
                "Objects of each bucket to ask the headers and the ACL of. Default: 200",
                value -> details = value);
        line.paths(
                "--inventory",
                "MANIFEST",
                "Take what a bucket holds from this inventory (its manifest.json, with the data beside it) instead of listing it; may repeat",
                value -> inventories = value);
    }

    @Override
    public Integer call() {
        if (script) {
            options.write(Gatherers.script(provider()));
            return ExitCode.DONE.number();
        }
        boolean isOfMany = accounts.isGiven();
        if (isOfMany && (templates.isGiven() || folder != null || !provider().equals("aws"))) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--organization and --accounts ask live accounts of the first provider: they go without --template, --folder and --provider azure");
        }
        if (permissions) {
            options.write(
                    provider().equals("azure")
                            ? SurveyRoles.text()
                            : isOfMany ? policiesOfMany() : SurveyPolicies.ofRole());
            return ExitCode.DONE.number();
        }
        if (parallel < 1 || parallel > 64 || objects < 0 || details < 0) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--parallel takes 1 to 64, --objects and --object-details 0 or more");
        }
        boolean isOfTemplate = templates.isGiven();
        if (isOfTemplate && (folder != null || resume || host != null)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--template goes without --folder, --resume and --host; leave one out");
        }
        if (isOfTemplate && !provider().equals("aws")) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "templates are read of the first provider only, not of " + provider());
        }
        if (provider().equals("aws") && !isOfTemplate) {
            takeEndpointOfEnvironment();
        }
        if (!inventories.isEmpty() && (isOfTemplate || !provider().equals("aws"))) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--inventory is of a bucket of a live account or of saved answers, of the first provider: it goes without --template and"
                            + " --provider azure");
        }
        demandAddresses();
        // What cannot be read should be known before anything is asked of an account.
        held = readInventories();
        if (isOfMany) {
            return ofMany().number();
        }
        demandRoom();
        if (subscription != null
                && (!provider().equals(AzureAspects.PROVIDER)
                        || !GUID.matcher(subscription).matches())) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--subscription takes the GUID of a subscription, with --provider azure; not \"" + subscription
                            + "\"");
        }
        if (isOfTemplate) {
            options.keepFrom(templates.files());
            return ofTemplate().number();
        }
        return (folder != null ? ofFolder(folder) : live()).number();
    }

    /** The official command line's variables: the general one counts here too, one of a single service cannot. */
    private void takeEndpointOfEnvironment() {
        Map<String, String> environment = System.getenv();
        if (endpoint != null || folder != null || environment.containsKey("AWS_IGNORE_CONFIGURED_ENDPOINT_URLS")) {
            return;
        }
        environment.keySet().stream()
                .filter(name -> name.startsWith("AWS_ENDPOINT_URL_"))
                .sorted()
                .findFirst()
                .ifPresent(name -> {
                    throw new InputException(
                            ExitCode.WRONG_COMMAND,
                            "the variable " + name + " is set, and a survey asks every service at one endpoint;"
                                    + " take it away, or name one for all with --endpoint");
                });
        String general = environment.getOrDefault("AWS_ENDPOINT_URL", "");
        if (!general.isEmpty()) {
            endpoint = general;
            options.say("Asking at " + general + ", as the variable AWS_ENDPOINT_URL says.");
        }
    }

    /** What no request could be sent to is refused before anything is asked. */
    private void demandAddresses() {
        if (region != null && !region.matches("[a-z0-9-]{1,40}")) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--region takes a region's name, such as eu-west-1, not \"" + region + "\"");
        }
        if (endpoint != null && !isAddress(endpoint)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--endpoint takes an address such as https://localhost:8443, not \"" + endpoint + "\"");
        }
    }

    private static boolean isAddress(String text) {
        try {
            URI address = new URI(text);
            boolean http = "http".equals(address.getScheme()) || "https".equals(address.getScheme());
            return http && address.getHost() != null && address.getPort() <= LARGEST_PORT;
        } catch (URISyntaxException none) {
            return false;
        }
    }

    private String provider() {
        if (Providers.named(provider).isEmpty()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--provider takes "
                            + Providers.ALL.stream().map(Provider::name).collect(Collectors.joining(" or "))
                            + ", not \"" + provider + "\"");
        }
        return provider;
    }

    private String policiesOfMany() {
        List<OrganizationSurvey.Member> members = accounts.list();
        Set<String> assumed = new LinkedHashSet<>();
        members.forEach(member -> assumed.add(
                member.via().isEmpty() ? member.roleArn("aws") : member.via().get(0)));
        if (accounts.isOrganization()) {
            assumed.add("arn:aws:iam::*:role/" + accounts.role().orElseThrow().replaceFirst("^/", ""));
        }
        return SurveyPolicies.ofMany(
                accounts.isOrganization(), assumed, members.stream().anyMatch(member -> member.externalId()
                        .isPresent()));
    }

    /** Takes the surveys of many accounts, each into a file of one folder. */
    private ExitCode ofMany() {
        Path into = options.output();
        if (into == null) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "many surveys are written into a folder; name one with --output DIR");
        }
        List<OrganizationSurvey.Member> named = accounts.list();
        AccountsFolder files = AccountsFolder.at(into, resume || force);
        try (OrganizationSurvey surveys = new OrganizationSurvey(settings(), accounts.isOrganization(), held)) {
            surveys.begin();
            OrganizationSurvey.Listed listed = accounts.isOrganization()
                    ? surveys.list(accounts.role().orElseThrow())
                    : new OrganizationSurvey.Listed(named, 0);
            List<AccountsSummary.Account> taken = new AccountsSurvey(
                            surveys, files, resume, this::takenAt, options, world.isTerminal())
                    .take(listed, SIDE_BY_SIDE * parallel);
            AccountsSummary.of(taken, listed.closed(), into.toString()).forEach(options::say);
            boolean isReached = taken.stream().anyMatch(each -> each.state() != AccountsSummary.State.REFUSED);
            if (!isReached) {
                throw new InputException(
                        ExitCode.UNREACHABLE,
                        "no account let the role be assumed; --permissions prints what the caller and the role need");
            }
            return ExitCode.DONE;
        } catch (LiveException unreachable) {
            throw new InputException(ExitCode.UNREACHABLE, unreachable.getMessage());
        }
    }

    private LiveSettings settings() {
        return new LiveSettings(
                Optional.ofNullable(profile),
                Optional.ofNullable(region),
                Optional.ofNullable(endpoint),
                parallel,
                objects,
                details,
                Optional.ofNullable(host),
                Optional.empty());
    }

    private ExitCode ofTemplate() {
        String takenAt = asOf.at(world.clock()).toString();
        Templates.Made made = templates.make(world, Optional.ofNullable(region), takenAt);
        TargetFile.write(target(), spelled(made.header(), made.lines()), "--output");
        made.notes().forEach(note -> options.say("gentle-warden: " + note));
        long open = made.lines().stream()
                .filter(line -> line.outcome() == Outcome.UNREAD && line.from().isPresent())
                .count();
        options.say(made.lines().size() + " readings in " + target() + ", " + open
                + " of them left open by the description.");
        boolean tellsOfAccount =
                made.lines().stream().anyMatch(line -> line.aspect().equals("account-public-access"));
        if (!tellsOfAccount) {
            long hanging = CheckCatalogue.all().stream()
                    .filter(check -> check.card().looksAt().contains("account-public-access"))
                    .count();
            options.say("The account's own block of public access stands in no template: " + hanging
                    + " checks hang on it; --beside SURVEY tells it.");
        }
        return ExitCode.DONE;
    }

    private static String spelled(SurveyHeader header, List<SurveyLine> lines) {
        StringWriter text = new StringWriter();
        try {
            new SurveyWriter(text).header(header);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        lines.parallelStream().map(SurveyWriter::spelled).forEachOrdered(text::write);
        return text.toString();
    }

    private ExitCode ofFolder(Path answers) {
        try {
            String takenAt = asOf.at(world.clock()).toString();
            SavedAnswers.Gathered gathered = Gatherers.ANSWERS.read(answers, takenAt);
            List<SurveyLine> readings = new ArrayList<>(gathered.readings());
            held.forEach(each -> readings.add(each.reading()));
            TargetFile.write(target(), spelled(gathered.header(), readings), "--output");
            List<SurveyLine> refused = readings.stream()
                    .filter(line -> line.outcome() == Outcome.UNREAD)
                    .toList();
            report(readings.size(), refused);
            if (!gathered.isWhole()) {
                options.say(
                        "This survey is partial: nothing says that the script that made " + answers
                                + " came to its end. Run it again, it goes on where it was; or take what is missing for not read.");
            }
            return ExitCode.DONE;
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** Neither a survey nor what there is of an interrupted one is lost to a typing error. */
    private void demandRoom() {
        Path file = target();
        if (force || (resume && folder == null)) {
            return;
        }
        // An empty file, as mktemp makes it, holds nothing to lose.
        if (GrowingFile.hasContent(file)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    file + ": is there already and is not replaced; --force replaces it, --output names another file"
                            + (folder == null ? ", --resume goes on with it" : ""));
        }
        if (folder == null && GrowingFile.hasContent(GrowingFile.besides(file))) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    GrowingFile.besides(file) + ": holds what an interrupted survey has read; --resume goes on with it,"
                            + " --force begins again");
        }
    }

    private Path target() {
        Path named = options.output();
        return named == null ? DEFAULT_FILE : named;
    }

    private ExitCode live() {
        GrowingFile file = GrowingFile.at(target());
        Optional<UnfinishedSurvey> earlier = resume && file.begun() ? Optional.of(file.reopened()) : Optional.empty();
        earlier.ifPresent(this::demandSameHosts);
        Progress progress = new Progress(options, world.isTerminal());
        LiveSettings settings = settings();
        try {
            ReadingLog log = null;
            try (Writer out = file.open(earlier.isPresent())) {
                log = new ReadingLog(out, earlier.map(UnfinishedSurvey::known).orElse(Set.of()), progress);
                if (provider().equals(AzureAspects.PROVIDER)) {
                    takeOfSubscription(log, earlier, file);
                } else {
                    take(settings, log, earlier, file);
                }
                progress.end();
            }
            file.finish();
            report(log.count(), log.refused());
            return ExitCode.DONE;
        } catch (LiveException unreachable) {
            file.dropIfEmpty();
            throw new InputException(ExitCode.UNREACHABLE, unreachable.getMessage());
        } catch (IOException failed) {
            progress.end();
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    target() + ": cannot be written (" + failed.getMessage() + "); what was read so far is in "
                            + file.growing() + ", go on with --resume");
        }
    }

    private void take(LiveSettings settings, ReadingLog log, Optional<UnfinishedSurvey> earlier, GrowingFile file)
            throws LiveException, IOException {
        try (LiveSurvey survey = new LiveSurvey(settings, log)) {
            survey.takeInventories(held);
            begin(survey.begin(target().toString(), takenAt()), log, earlier, file);
            survey.run();
            survey.unusedInventories()
                    .forEach(bucket -> options.say("gentle-warden: the inventory of " + bucket
                            + " is not used, since the account has no such bucket"));
        }
    }

    /** Reads the inventories, before anything is asked of an account. */
    private List<Inventory> readInventories() {
        List<Inventory> all = new ArrayList<>();
        for (Path manifest : inventories) {
            try {
                Inventory read = InventoryReader.read(manifest);
                if (all.stream().anyMatch(each -> each.bucket().equals(read.bucket()))) {
                    throw new InputException(
                            ExitCode.WRONG_INPUT,
                            manifest + ": this is of " + read.bucket()
                                    + ", as is another inventory; give the newest of each");
                }
                all.add(read);
            } catch (Inventory.Unusable unusable) {
                throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
            }
        }
        return all;
    }

    private void takeOfSubscription(ReadingLog log, Optional<UnfinishedSurvey> earlier, GrowingFile file)
            throws LiveException, IOException {
        AzureSettings settings = new AzureSettings(
                Optional.ofNullable(subscription),
                Optional.ofNullable(endpoint).map(url -> url.replaceAll("/+$", "")),
                Optional.ofNullable(System.getenv("REQUESTS_CA_BUNDLE"))
                        .filter(name -> !name.isEmpty())
                        .map(Path::of),
                parallel,
                objects,
                Optional.ofNullable(host),
                Optional.empty());
        try (AzureSurvey survey = new AzureSurvey(settings, log)) {
            begin(survey.begin(target().toString(), takenAt()), log, earlier, file);
            survey.run();
        }
    }

    private String takenAt() {
        return asOf.at(world.clock()).truncatedTo(ChronoUnit.SECONDS).toString();
    }

    private static void begin(SurveyHeader header, ReadingLog log, Optional<UnfinishedSurvey> earlier, GrowingFile file)
            throws IOException {
        if (earlier.isEmpty()) {
            log.header(header);
        } else if (!earlier.get().account().equals(header.account())) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    file.growing() + ": this is a survey of the account "
                            + earlier.get().account() + ", and the credentials are of " + header.account()
                            + "; name another file");
        }
    }

    /** One file holds the answers about the same hosts throughout. */
    private void demandSameHosts(UnfinishedSurvey earlier) {
        List<String> wanted = Optional.ofNullable(host).map(each -> each.toLowerCase(Locale.ROOT)).stream()
                .toList();
        if (!earlier.hosts().equals(wanted)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    target() + ": this survey follows "
                            + (earlier.hosts().isEmpty()
                                    ? "the whole account; leave --host out"
                                    : "only " + String.join(", ", earlier.hosts()) + "; name that with --host")
                            + ", or name another file with --output");
        }
    }

    private void report(int count, List<SurveyLine> unread) {
        options.say(count + " readings are in " + target() + ".");
        Map<Boolean, List<SurveyLine>> byLimit = unread.stream()
                .collect(Collectors.partitioningBy(line -> line.obstacle().startsWith(ReadingLog.NOT_ASKED)));
        List<SurveyLine> refused = byLimit.getOrDefault(false, List.of());
        if (refused.isEmpty()) {
            options.say("Nothing was refused.");
        } else {
            sayRefused(refused);
        }
        long beyond = byLimit.getOrDefault(true, List.of()).stream()
                .map(SurveyLine::of)
                .distinct()
                .count();
        if (beyond > 0) {
            options.say("Not asked: the headers and ACLs of " + beyond + " objects beyond the first " + details
                    + " of a bucket; --object-details N asks for more.");
        }
    }

    private void sayRefused(List<SurveyLine> refused) {
        boolean isAws = refused.get(0).of().startsWith("arn:") || provider.equals("aws");
        Aspects aspects = isAws ? AwsAspects.TABLE : AzureAspects.TABLE;
        TreeMap<String, Integer> byReason = new TreeMap<>();
        Set<String> missing = new TreeSet<>();
        refused.forEach(line -> {
            String permission = aspects.permission(line);
            boolean isList = isAws && !permission.equals(Permissions.toRead(line.aspect()));
            String what = isList ? "the list by " + permission : line.aspect();
            byReason.merge(what + " (" + line.obstacle() + ")", 1, Integer::sum);
            if (!permission.isEmpty()) {
                missing.add(permission);
            }
        });
        options.say("Not seen:");
        byReason.forEach((reason, times) -> options.say("  " + reason + (times > 1 ? ", " + times + " times" : "")));
        options.say(isAws ? "This statement would allow it:" : "This in a role would allow it:");
        options.say("  " + aspects.grant(missing));
    }
}

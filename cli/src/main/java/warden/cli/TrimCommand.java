package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import warden.core.account.Account;
import warden.core.identity.Principal;
import warden.core.pipeline.Deployments;
import warden.core.policy.Arn;
import warden.core.power.Powers;
import warden.core.site.Estate;
import warden.core.site.Publisher;
import warden.core.site.PublisherFinder;
import warden.core.survey.Need;
import warden.core.trim.Activity;
import warden.core.trim.Trimmed;
import warden.gather.activity.ActivityReader;
import warden.report.TrimJson;
import warden.report.TrimText;

/** Says what publishing credentials need and what they may do, and proposes the policy that would do. */
@Command(
        name = "trim",
        description =
                "Compare what publishing credentials need with what they may do, and write the policy that would do.")
final class TrimCommand implements Callable<Integer> {
    @Mixin
    private CommonOptions options = new CommonOptions();

    @Option(names = "--credential", paramLabel = "ARN", description = "Only this user or role")
    private @Nullable String credential;

    @Option(names = "--site", paramLabel = "NAME", description = "Only the credentials that publish this site")
    private @Nullable String site;

    @Option(
            names = "--pipeline",
            paramLabel = "FILE",
            description = "A pipeline file that tells what is needed, or a script that one runs; may repeat")
    private List<String> pipelines = new ArrayList<>();

    @Option(
            names = "--activity",
            paramLabel = "FILE",
            description = "Log file of the account's activity, or a folder of them; .gz is understood; may repeat")
    private List<String> activity = new ArrayList<>();

    @Option(names = "--policy-out", paramLabel = "DIR", description = "Write each proposed policy there, as a file")
    private @Nullable Path policyOut;

    private final World world;

    TrimCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() {
        List<Trimmed> trimmed;
        List<Need> unread;
        try (Stages stages = options.stages(world.isTerminal())) {
            Estate estate = options.estate(world);
            trimmed = trimmed(estate, stages);
            unread = credential == null ? estate.unreadPrincipals() : List.of();
        }
        if (policyOut != null) {
            write(trimmed, policyOut);
        }
        options.write(
                switch (options.format()) {
                    case json -> {
                        options.sayUnread(unread);
                        yield TrimJson.of(trimmed);
                    }
                    case text -> TrimText.of(trimmed, unread, options.style(world.isTerminal(), world.noColor()));
                });
        return ExitCode.DONE.number();
    }

    private List<Trimmed> trimmed(Estate estate, Stages stages) {
        List<Publisher> found = new PublisherFinder(estate).find();
        List<Publisher> wanted = wanted(estate, found);
        List<Publisher> all = new ArrayList<>(found);
        wanted.stream()
                .filter(publisher ->
                        found.stream().noneMatch(other -> other.arn().equals(publisher.arn())))
                .forEach(all::add);
        Deployments deployments = new Deployments(estate, all, PipelineFiles.read(pipelines, estate));
        stages.at("summing the account's log up");
        Activity used = used();
        stages.at("comparing what is needed with what is allowed", wanted.size());
        return wanted.stream()
                .peek(publisher -> stages.step())
                .map(publisher -> Trimmed.of(
                        publisher,
                        deployments,
                        new Powers(estate.reach(publisher.account()), publisher.principal()),
                        used.usedBy(publisher.arn())))
                .toList();
    }

    private List<Publisher> wanted(Estate estate, List<Publisher> found) {
        List<Publisher> wanted = found.stream()
                .filter(publisher -> credential == null || publisher.arn().equals(credential))
                .filter(publisher -> site == null
                        || publisher.sites().stream()
                                .anyMatch(each ->
                                        each.name().equals(site) || each.hosts().contains(site)))
                .toList();
        if (credential != null && wanted.isEmpty()) {
            return List.of(byArn(estate, credential));
        }
        if (site != null && wanted.isEmpty()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--site: no surveyed credential publishes a site \"" + site + "\"; name one with --credential ARN");
        }
        return wanted;
    }

    private static Publisher byArn(Estate estate, String arn) {
        for (Account account : estate.accounts()) {
            Optional<Principal> principal = Arn.parse(arn)
                    .flatMap(parsed -> account.directory().principal(parsed).found());
            if (principal.isPresent()) {
                return new Publisher(account, principal.get(), List.of());
            }
        }
        String known = estate.accounts().stream()
                .flatMap(account -> account.directory().principals().stream())
                .map(principal -> principal.arn().toString())
                .limit(8)
                .collect(Collectors.joining(", "));
        throw new InputException(
                ExitCode.WRONG_COMMAND,
                "--credential: the survey describes no user or role " + arn
                        + (known.isEmpty()
                                ? ", nor any other; survey with iam:GetAccountAuthorizationDetails"
                                : "; known are " + known));
    }

    private Activity used() {
        if (activity.isEmpty()) {
            return Activity.none();
        }
        try {
            Activity used = ActivityReader.read(activity);
            used.problems().forEach(options::say);
            options.say(used.events() + " events of the log read, " + used.refused() + " of them refused.");
            return used;
        } catch (IOException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** Writes a file for each policy, whole or not at all. */
    private void write(List<Trimmed> trimmed, Path folder) {
        try {
            Files.createDirectories(folder);
        } catch (IOException failed) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    folder + ": cannot be made a folder (" + failed.getMessage() + "); name another with --policy-out");
        }
        Set<String> used = new HashSet<>();
        for (Trimmed each : trimmed) {
            if (each.needed().isEmpty()) {
                options.say(each.publisher().arn() + ": nothing tells what it needs, so no policy is written for it.");
                continue;
            }
            // A user and a role may bear the same name.
            String plain = each.publisher().principal().name().replaceAll("[^A-Za-z0-9._@+=-]", "_");
            String name = plain;
            for (int i = 2; !used.add(name); i++) {
                name = plain + "-" + i;
            }
            Path trust = folder.resolve(name + ".trust.json");
            TargetFile.write(
                    folder.resolve(name + ".policy.json"),
                    options.json(each.policy().spelled()),
                    "--policy-out");
            each.trust()
                    .ifPresent(proposed -> TargetFile.write(trust, options.json(proposed.spelled()), "--policy-out"));
        }
    }
}

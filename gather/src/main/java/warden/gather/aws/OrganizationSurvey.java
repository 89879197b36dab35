package warden.gather.aws;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.awscore.exception.AwsServiceException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.http.SdkHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.organizations.model.Account;
import software.amazon.awssdk.services.organizations.model.AccountStatus;
import software.amazon.awssdk.services.organizations.model.ListAccountsResponse;
import software.amazon.awssdk.services.sts.auth.StsAssumeRoleCredentialsProvider;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.gather.aws.inventory.Inventory;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;

/**
 * Takes surveys of many accounts: in each a role is assumed, over others where it is said so. All calls are under one limit. Safe for use by
 * several threads, each of which takes another account.
 */
public final class OrganizationSurvey implements AutoCloseable {
    private static final String SESSION = "gentle-warden-survey";
    /** Calls of one account that wait for each other are few; more threads would only wait for a place. */
    private static final int THREADS = 4;

    private final LiveSettings settings;
    private final Clients own;
    private final SdkHttpClient shared;
    private final boolean managesOrganization;
    private final List<Inventory> inventories;
    private String caller = "";
    private String partition = "aws";

    /**
     * Makes ready.
     *
     * @param managesOrganization whether the caller is the organization's management account, which can be asked for its policies
     * @param inventories of buckets of whichever account
     */
    public OrganizationSurvey(LiveSettings settings, boolean managesOrganization, List<Inventory> inventories) {
        this.inventories = List.copyOf(inventories);
        this.settings = settings;
        this.own = new Clients(settings);
        this.shared = new LimitedHttp(Clients.patient(), settings.parallel());
        this.managesOrganization = managesOrganization;
    }

    /**
     * An account to be surveyed.
     *
     * @param name as the organization or the owner's list calls it; empty where neither does
     * @param role the role's name, with its path, or its ARN
     * @param via ARNs of roles that are assumed before it, one after the other
     */
    public record Member(String account, String name, String role, Optional<String> externalId, List<String> via) {
        public Member {
            via = List.copyOf(via);
        }

        /**
         * Returns the role's ARN.
         *
         * @param partition that of the caller, such as {@code aws}
         */
        public String roleArn(String partition) {
            return role.startsWith("arn:")
                    ? role
                    : "arn:" + partition + ":iam::" + account + ":role/" + role.replaceFirst("^/", "");
        }
    }

    /**
     * The accounts of an organization.
     *
     * @param closed how many more it has that are suspended, or not yet or no longer its own
     */
    public record Listed(List<Member> members, int closed) {
        public Listed {
            members = List.copyOf(members);
        }
    }

    @Override
    public void close() {
        own.close();
        shared.close();
    }

    /**
     * Asks who is asking.
     *
     * @return the account's number
     * @throws LiveException with one sentence that says why not, and what to do
     */
    public String begin() throws LiveException {
        try (LiveSurvey survey = new LiveSurvey(settings, new ReadingLog(null, Set.of(), (done, due) -> {}))) {
            SurveyHeader me = survey.begin("", "");
            caller = me.account();
            partition = me.takenBy().split(":", 3)[1];
            return caller;
        }
    }

    /**
     * Lists the organization's active accounts. Source: AWS Organizations API Reference, "ListAccounts".
     *
     * @throws LiveException where the caller may not ask that, or there is no organization
     */
    public Listed list(String role) throws LiveException {
        List<Member> members = new ArrayList<>();
        int closed = 0;
        try {
            for (ListAccountsResponse page : own.organization().listAccountsPaginator(r -> {})) {
                for (Account account : page.accounts()) {
                    if (account.status() == AccountStatus.ACTIVE) {
                        String name = account.name() == null ? "" : account.name();
                        members.add(new Member(account.id(), name, role, Optional.empty(), List.of()));
                    } else {
                        closed++;
                    }
                }
            }
        } catch (AwsServiceException refused) {
            throw new LiveException(
                    "the organization's accounts cannot be listed (" + code(refused)
                            + "); ask as its management account with organizations:ListAccounts, or name the accounts with --accounts FILE");
        } catch (SdkException failed) {
            throw new LiveException("the organization's accounts cannot be listed: the list broke off ("
                    + String.valueOf(failed.getMessage()).replaceAll("\\s+", " ") + "); run it again");
        }
        return new Listed(members, closed);
    }

    private static String code(AwsServiceException refused) {
        return refused.awsErrorDetails() == null || refused.awsErrorDetails().errorCode() == null
                ? "HTTP " + refused.statusCode()
                : refused.awsErrorDetails().errorCode();
    }

    /** The caller's own account needs no role, and often has none. */
    private boolean isOwn(Member member) {
        return member.account().equals(caller)
                && !member.role().startsWith("arn:")
                && member.via().isEmpty();
    }

    /**
     * Makes the survey of an account.
     *
     * @param log where its readings go
     */
    public Taking survey(Member member, ReadingLog log) {
        Region region = Region.of(own.region());
        List<AutoCloseable> chain = new ArrayList<>();
        Clients asking = new Clients(settings, shared, region, own.credentials());
        chain.add(asking);
        AwsCredentialsProvider credentials = isOwn(member) ? own.credentials() : credentials(member, asking, chain);
        Clients clients = new Clients(settings, shared, region, credentials);
        if (managesOrganization) {
            clients.askOrganizationBy(asking);
        }
        LiveSurvey survey = new LiveSurvey(settings, clients, THREADS, log);
        survey.takeInventories(inventories);
        return new Taking(member.account(), member.roleArn(partition), credentials, survey, chain);
    }

    /** The survey of one account, and what it holds open. */
    public static final class Taking implements AutoCloseable {
        private final String account;
        private final String role;
        private final AwsCredentialsProvider credentials;
        private final LiveSurvey survey;
        private final List<AutoCloseable> chain;

        private Taking(
                String account,
                String role,
                AwsCredentialsProvider credentials,
                LiveSurvey survey,
                List<AutoCloseable> chain) {
            this.account = account;
            this.role = role;
            this.credentials = credentials;
            this.survey = survey;
            this.chain = chain;
        }

        /** Returns the readings of an account whose role cannot be worked as: all of them say why. Absent where it can. */
        public Optional<List<SurveyLine>> refusal() {
            try {
                credentials.resolveCredentials();
                return Optional.empty();
            } catch (SdkException refused) {
                return Optional.of(
                        LiveSurvey.unreachable(account, Answers.failed("", "", "sts:AssumeRole on " + role, refused)));
            }
        }

        /**
         * Asks who is asking; the header is the survey's.
         *
         * @throws LiveException also where the role turns out to be another account's
         */
        public SurveyHeader begin(String file, String takenAt) throws LiveException {
            SurveyHeader header = survey.begin(file, takenAt);
            if (!header.account().equals(account)) {
                throw new LiveException(
                        "the role " + role + " is of the account " + header.account() + ", not of " + account);
            }
            return header;
        }

        /** Returns the readings of an account that does not answer: all of them say why. */
        public List<SurveyLine> unreachable(LiveException why) {
            return LiveSurvey.unreachable(
                    account,
                    ReadingLog.unread(
                            "", "", "sts:GetCallerIdentity", "Unreachable", String.valueOf(why.getMessage())));
        }

        /** Asks everything. */
        public void run() throws java.io.IOException {
            survey.run();
        }

        @Override
        public void close() {
            survey.close();
            closeAll(chain);
        }
    }

    private static void closeAll(List<AutoCloseable> chain) {
        for (int i = chain.size() - 1; i >= 0; i--) {
            try {
                chain.get(i).close();
            } catch (Exception ignored) {
                // Nothing more is asked of it.
            }
        }
    }

    /** Returns the role's credentials, which are renewed before they expire. Source: STS API Reference, "AssumeRole". */
    private AwsCredentialsProvider credentials(Member member, Clients first, List<AutoCloseable> chain) {
        AwsCredentialsProvider credentials = own.credentials();
        Clients asking = first;
        List<String> roles = new ArrayList<>(member.via());
        roles.add(member.roleArn(partition));
        for (int i = 0; i < roles.size(); i++) {
            String arn = roles.get(i);
            boolean isLast = i == roles.size() - 1;
            StsAssumeRoleCredentialsProvider next = StsAssumeRoleCredentialsProvider.builder()
                    .stsClient(asking.roles())
                    .refreshRequest(r -> {
                        r.roleArn(arn).roleSessionName(SESSION);
                        member.externalId().filter(id -> isLast).ifPresent(r::externalId);
                    })
                    .build();
            chain.add(next);
            credentials = next;
            if (!isLast) {
                asking = new Clients(settings, shared, Region.of(own.region()), next);
                chain.add(asking);
            }
        }
        return credentials;
    }
}

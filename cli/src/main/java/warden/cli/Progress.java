package warden.cli;

import warden.gather.live.ReadingLog;

/** Shows how far a survey is. */
final class Progress implements ReadingLog.Progress {
    private final ProgressBar bar;

    Progress(OutputOptions options, boolean isTerminal) {
        this.bar = new ProgressBar(options, isTerminal);
    }

    @Override
    public void at(int done, int due) {
        bar.draw(done, Math.max(due, done), "readings");
    }

    /** Wipes the bar away. */
    void end() {
        bar.end();
    }
}

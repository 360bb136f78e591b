import { Module } from '@nestjs/common'
import { ActionModule } from './action/action.module.js'
import { CulpritModule } from './culprit/culprit.module.js'
import { CompareModule } from './compare/compare.module.js'
import { ComplaintModule } from './complaint/complaint.module.js'
import { GentleModule } from './gentle/gentle.module.js'
import { ConsentModule } from './consent/consent.module.js'
import { NowhereModule } from './nowhere/nowhere.module.js'
import { VerifyModule } from './verify/verify.module.js'
import { PromiseModule } from './promise/promise.module.js'
import { AddOnModule } from './add-on/add-on.module.js'
import { ConfigModule } from './config/config.module.js'
import { DatabaseModule } from './database/database.module.js'
import { EventsModule } from './events/events.module.js'
import { FileLookModule } from './file-look/file-look.module.js'
import { FollowModule } from './follow/follow.module.js'
import { MetricsModule } from './metrics/metrics.module.js'
import { HarModule } from './har/har.module.js'
import { ServerReadingModule } from './server-reading/server-reading.module.js'
import { PageViewModule } from './page-view/page-view.module.js'
import { WithoutModule } from './without/without.module.js'
import { HealthController } from './health/health.controller.js'
import { InventoryModule } from './inventory/inventory.module.js'
import { LensModule } from './lens/lens.module.js'
import { LedgerModule } from './ledger/ledger.module.js'
import { OutsideModule } from './outside/outside.module.js'
import { PageModule } from './page-sheet/page.module.js'
import { PageSetModule } from './page-set/page-set.module.js'
import { FilmModule } from './film/film.module.js'
import { ShareModule } from './share/share.module.js'
import { StaleModule } from './stale/stale.module.js'
import { StorageModule } from './storage/storage.module.js'
import { PatternModule } from './pattern/pattern.module.js'
import { ProofModule } from './proof/proof.module.js'
import { QueueModule } from './queue/queue.module.js'
import { ReadyModule } from './ready/ready.module.js'
import { RehearsalModule } from './rehearsal/rehearsal.module.js'
import { RetirementModule } from './retirement/retirement.module.js'
import { DeploymentModule } from './rule/deployment/deployment.module.js'
import { PreviewModule } from './preview/preview.module.js'
import { RuleModule } from './rule/rule.module.js'
import { StandingModule } from './standing/standing.module.js'
import { SiteModule } from './site/site.module.js'
import { StepIdeaModule } from './step-idea/step-idea.module.js'
import { StepTrialModule } from './step-trial/step-trial.module.js'
import { StepModule } from './step/step.module.js'
import { SweepModule } from './sweep/sweep.module.js'
import { TraceModule } from './trace/trace.module.js'
import { SnapshotModule } from './snapshot/snapshot.module.js'
import { PictureLookModule } from './picture-look/picture-look.module.js'
import { PaperModule } from './paper/paper.module.js'
import { TidyModule } from './tidy/tidy.module.js'
import { WeighInModule } from './weigh-in/weigh-in.module.js'

@Module({
  imports: [
    ConfigModule,
    DatabaseModule,
    QueueModule,
    EventsModule,
    ReadyModule,
    SiteModule,
    AddOnModule,
    InventoryModule,
    PageModule,
    PageSetModule,
    PatternModule,
    FilmModule,
    ShareModule,
    StaleModule,
    StorageModule,
    HarModule,
    WithoutModule,
    PageViewModule,
    ServerReadingModule,
    ActionModule,
    OutsideModule,
    StepModule,
    StepIdeaModule,
    StepTrialModule,
    SweepModule,
    LensModule,
    LedgerModule,
    StandingModule,
    RuleModule,
    RehearsalModule,
    CulpritModule,
    GentleModule,
    ConsentModule,
    NowhereModule,
    VerifyModule,
    PromiseModule,
    CompareModule,
    ComplaintModule,
    RetirementModule,
    WeighInModule,
    SnapshotModule,
    PaperModule,
    PictureLookModule,
    TidyModule,
    PreviewModule,
    DeploymentModule,
    FileLookModule,
    FollowModule,
    MetricsModule,
    ProofModule,
    TraceModule,
  ],
  controllers: [HealthController],
})
export class AppModule {}

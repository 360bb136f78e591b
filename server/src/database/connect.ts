import { Sequelize } from 'sequelize'
import { initialiseAddOn } from '../add-on/add-on.model.js'
import { initialiseLens } from '../lens/lens.model.js'
import { initialisePage } from '../page/page.model.js'
import { initialiseReading } from '../reading/reading.model.js'
import { initialiseDraft } from '../rule/draft.model.js'
import { initialiseRuleVersion } from '../rule/rule-version.model.js'
import { initialiseProof } from '../proof/proof.model.js'
import { initialiseSite } from '../site/site.model.js'
import { initialisePageSet } from '../page-set/page-set.model.js'
import { initialisePattern } from '../pattern/pattern.model.js'
import { initialiseDeployment } from '../rule/deployment/deployment.model.js'
import { initialisePutOff } from '../rule/deployment/put-off.model.js'
import { initialiseOnDemand } from '../on-demand/on-demand.model.js'
import { initialiseCulprit } from '../culprit/culprit.model.js'
import { initialiseCause } from '../complaint/cause.model.js'
import { initialiseGentle } from '../gentle/gentle.model.js'
import { initialiseRetirement } from '../retirement/retirement.model.js'
import { initialiseRehearsal } from '../rehearsal/rehearsal.model.js'
import { initialiseWeighIn } from '../weigh-in/weigh-in.model.js'
import { initialiseFilmFrame } from '../film/film-frame.model.js'
import { initialiseShare } from '../share/share.model.js'
import { initialisePictureFile } from '../picture-look/picture-file.model.js'
import { initialisePaper } from '../paper/paper.model.js'
import { initialisePageAnswer } from '../snapshot/page-answer.model.js'
import { initialiseSiteRestore } from '../snapshot/site-restore.model.js'
import { initialiseTidying } from '../tidy/tidying.model.js'
import { initialiseMadeCopy } from '../made-copy/made-copy.model.js'
import { initialiseSweep } from '../sweep/sweep.model.js'

/** Connects to PostgreSQL and ties every model to the connection. */
export async function connect(databaseUrl: string): Promise<Sequelize> {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: false,
    pool: { max: 10 },
    define: { underscored: true, timestamps: false, freezeTableName: true },
  })
  await sequelize.authenticate()
  for (const initialise of [
    initialiseSite,
    initialiseMadeCopy,
    initialisePage,
    initialiseAddOn,
    initialiseLens,
    initialiseOnDemand,
    initialiseDeployment,
    initialisePutOff,
    initialisePattern,
    initialisePageSet,
    initialiseSweep,
    initialiseReading,
    initialiseDraft,
    initialiseRuleVersion,
    initialiseProof,
    initialiseRehearsal,
    initialiseCulprit,
    initialiseGentle,
    initialiseCause,
    initialiseRetirement,
    initialiseWeighIn,
    initialiseShare,
    initialiseFilmFrame,
    initialisePageAnswer,
    initialisePaper,
    initialisePictureFile,
    initialiseSiteRestore,
    initialiseTidying,
  ])
    initialise(sequelize)
  return sequelize
}

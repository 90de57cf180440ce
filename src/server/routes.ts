import { description } from '../core/api/description';
import { broadcastRoutes } from './broadcasts/draft/broadcast-routes';
import { fileRoutes } from './broadcasts/draft/file-routes';
import { reachRoutes } from './broadcasts/draft/reach-routes';
import { xliffRoutes } from './broadcasts/draft/xliff-routes';
import { recipientRoutes } from './broadcasts/run/recipient-routes';
import { runRoutes } from './broadcasts/run/run-routes';
import { outcomeRoutes } from './outcomes/outcome-routes';
import { calendarRoutes } from './calendar/calendar-routes';
import { codeRoutes } from './codes/code-routes';
import { jobRoutes } from './setup/job-routes';
import { segmentRoutes } from './people/segments/segment-routes';
import { dependantRoutes } from './people/person/dependant-routes';
import { exportRoutes } from './people/export/export-routes';
import { groupRoutes } from './people/groups/group-routes';
import { importDownloads } from './people/imports/import-downloads';
import { importRoutes } from './people/imports/import-routes';
import { lookupRoutes } from './people/person/lookup-routes';
import { peopleRoutes } from './people/people-routes';
import { keywordRoutes } from './replies/keyword-routes';
import { passingRoutes } from './replies/passing-routes';
import { replyRoutes } from './replies/reply-routes';
import { phonesRoutes } from './practice/phones-routes';
import { accountRoutes } from './accounts/account-routes';
import { deskRoutes } from './setup/desk-routes';
import { setupRoutes } from './setup/setup-routes';
import { testerRoutes } from './setup/tester-routes';
import { templateRoutes } from './templates/template-routes';
import { todayRoutes } from './today/today-routes';
import { linkRoutes } from './links/link-routes';
import { openApi } from './http/open-api';
import { ownNumberRoutes } from './accounts/own-number-routes';
import { route, type Route } from './http/route';
import { sessionRoutes } from './accounts/session-routes';

/** Every route there is; the role test and the API description go over this table. */
export const allRoutes: Route[] = [
  ...sessionRoutes,
  ...ownNumberRoutes,
  ...accountRoutes,
  ...todayRoutes,
  // before the person's own address, which would take their last word for an id
  ...exportRoutes,
  ...lookupRoutes,
  ...peopleRoutes,
  ...dependantRoutes,
  ...groupRoutes,
  ...segmentRoutes,
  ...importDownloads,
  ...importRoutes,
  ...fileRoutes,
  ...broadcastRoutes,
  ...reachRoutes,
  ...xliffRoutes,
  ...recipientRoutes,
  ...runRoutes,
  ...outcomeRoutes,
  ...templateRoutes,
  ...codeRoutes,
  ...calendarRoutes,
  ...replyRoutes,
  ...keywordRoutes,
  ...passingRoutes,
  ...setupRoutes,
  ...deskRoutes,
  ...testerRoutes,
  ...jobRoutes,
  ...phonesRoutes,
  ...linkRoutes,
  route(description.get, async () => openApi(allRoutes)),
];
